import { describe, expect, it } from 'vitest';
import { loopProject, unwrap } from '../../../tests/support/documents.ts';
import { homeOf } from '../../../tests/support/edits.ts';
import { energy, LiveSong, pitchHz, planOf, play, set, shortBursts } from '../../../tests/support/playing.ts';
import { firstDifference, sine } from '../../../tests/support/signals.ts';
import { duplicatePart } from '../project/commands/copy-part.ts';
import { removeEvents } from '../project/commands/events.ts';
import { copyPattern } from '../project/commands/patterns.ts';
import { eventsOf } from '../queries/patterns.ts';
import { compilePlan } from './plan/compile.ts';
import { WantedRenderings } from './plan/wanted-renderings.ts';
import { renderAll } from './plan/render-all.ts';

const RATE = 44100;

describe('transposition', () => {
  const made = loopProject({ sampleRate: RATE, channels: [sine(400, 4)] }, [0], 2);
  const bar = 2 * RATE;

  it.each(['slices', 'stretch', 'speed'] as const)('by %s is heard at once, or from the next bar on', (follow) => {
    for (const transposeAt of ['now', 'bar'] as const) {
      const before = planOf(set(made, { follow, transposeAt }));
      const after = planOf(set(made, { follow, transposeAt, transposeCents: 1200 }));
      const out = play(before, bar + RATE, 0, (renderer, frame) => {
        if (frame === 441 * 100) renderer.setPlan(after);
      });
      expect(pitchHz(out, 46_000, bar - 3_000)).toBeCloseTo(transposeAt === 'now' ? 800 : 400, -1);
      expect(pitchHz(out, bar + 1_000, bar + 20_000)).toBeCloseTo(800, -1);
    }
  });

  it('from the next bar on comes in on its frame, also while the renderings are still being made', () => {
    const fifth = set(made, { follow: 'stretch', transposeAt: 'bar', transposeCents: 700 });
    const before = planOf(fifth);
    const octave = set(fifth, { transposeCents: 1200 });
    // Only the fifth is there yet: until the octave is, the engine would play the fifth faster.
    const meanwhile = compilePlan(octave.document, RATE, {
      assets: octave.assets,
      renderings: renderAll(fifth.document, fifth.assets),
    });
    const undisturbed = play(before, bar + RATE);
    const out = play(before, bar + RATE, 0, (renderer, frame) => {
      if (frame === 441 * 50) renderer.setPlan(meanwhile);
      if (frame === 441 * 90) renderer.setPlan(planOf(octave));
    });
    expect(firstDifference(out, undisturbed)).toBeGreaterThanOrEqual(bar);
    expect(firstDifference(out, undisturbed)).toBeLessThan(bar + 20);
    expect(pitchHz(out, bar + 2_000, bar + 20_000)).toBeCloseTo(800, -1);
  });

  it('that waits holds back what a single edit sends, values and samples together', () => {
    const before = set(made, { follow: 'stretch', transposeAt: 'bar' }, 100);
    const after = set(before, { transposeCents: -500 });
    const song = new LiveSong(before.document, before.assets);
    song.renderer.play(0);
    const barFrames = 2.4 * RATE;
    const early = song.next(441 * 60);
    song.edit(after.document);
    const out = new Float32Array([...early, ...song.next(barFrames + RATE - early.length)]);
    const undisturbed = play(planOf(before), barFrames + RATE);
    expect(firstDifference(out, undisturbed)).toBeGreaterThanOrEqual(barFrames);
    expect(pitchHz(out, barFrames + 4_000, barFrames + 20_000)).toBeCloseTo(400 * 2 ** (-5 / 12), -1);
  });

  it('that waits is forgotten when it is taken back, and does not hold up a change of level', () => {
    const plain = set(made, { follow: 'stretch', transposeAt: 'bar', transposeCents: 700 });
    const before = planOf(plain);
    const octave = planOf(set(plain, { transposeCents: 1200, gainDb: -12 }));
    const out = play(before, bar + RATE, 0, (renderer, frame) => {
      if (frame === 441 * 50) renderer.setPlan(octave);
      if (frame === 441 * 120) renderer.setPlan(before);
    });
    const level = (from: number) => energy(out, from, from + 4_410);
    expect(level(441 * 60) / level(441 * 30)).toBeCloseTo(10 ** -1.2, 2);
    expect(pitchHz(out, bar + 2_000, bar + 20_000)).toBeCloseTo(400 * 2 ** (7 / 12), -1);
  });
});

describe('what is to be rendered', () => {
  it('comes in the order in which it will be heard, from where the song is', () => {
    const project = set(shortBursts(), { follow: 'stretch' }, 90);
    const order = (positionTicks: number) =>
      new WantedRenderings().inOrder(project.document, positionTicks).map((spec) => spec.startFrame / 11_025);
    expect(order(0)).toEqual([0, 1, 2, 3, 4, 5, 6, 7]);
    // Half a beat a slice; the third of them has just begun, and sounds.
    expect(order(2 * 480 + 10)).toEqual([2, 3, 4, 5, 6, 7, 0, 1]);
    expect(order(5 * 8 * 480 + 7 * 480)).toEqual([7, 0, 1, 2, 3, 4, 5, 6]);
  });

  it('leaves what no pattern plays, and parts that are silenced, for later', () => {
    const project = set(shortBursts(), { follow: 'stretch' }, 90);
    const { partId } = project;
    const copied = unwrap(
      copyPattern(project.document, { partId, patternId: homeOf(project.document, partId) }, project.env),
    );
    const patternId = copied.parts[partId]!.activePatternId;
    const early = eventsOf(copied, patternId).filter((event) => event.positionTicks < 6 * 480);
    const eventIds = early.map((event) => event.id);
    const document = unwrap(removeEvents(copied, { patternId, eventIds }, project.env));
    expect(new WantedRenderings().inOrder(document, 0).map((spec) => spec.startFrame / 11_025)).toEqual([
      6, 7, 0, 1, 2, 3, 4, 5,
    ]);
    const copies = unwrap(duplicatePart(document, { partId }, project.env));
    const [, second] = copies.partOrder;
    const both = set({ ...project, document: copies, partId: second! }, { muted: true, transposeCents: 100 }).document;
    expect(new WantedRenderings().inOrder(both, 0).map((spec) => spec.transposeCents)).toEqual([
      ...Array<number>(8).fill(0),
      ...Array<number>(8).fill(100),
    ]);
  });
});
