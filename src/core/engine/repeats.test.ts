import { describe, expect, it } from 'vitest';
import { copyPattern } from '#core/project/commands/patterns.ts';
import { placeEvent, removeEvents } from '#core/project/commands/events.ts';
import type { PatternEvent, ProjectDocument } from '../document/schema.ts';
import { eventsOf } from '../queries/patterns.ts';
import { loopProject, unwrap } from '../../../tests/support/documents.ts';
import { eightStepLoop } from '../../../tests/support/signals.ts';
import { compilePlan } from './plan/compile.ts';
import { Renderer } from './renderer.ts';

const RATE = 44100;
/** A bar at the tempo of the loop, 120 bpm. */
const BAR_FRAMES = 2 * RATE;

/** A bar with one strip of the loop's first slice in it, with these values. */
function oneStrip(values: PatternEvent['values'], lengthTicks = 3840) {
  const { audio, starts } = eightStepLoop();
  const { document: empty, assets, env, partId, home } = loopProject(audio, starts);
  let document: ProjectDocument = unwrap(copyPattern(empty, { partId, patternId: home }, env));
  const patternId = document.parts[partId]!.activePatternId;
  const events = eventsOf(document, patternId);
  const zoneId = events[0]!.zoneId;
  document = unwrap(removeEvents(document, { patternId, eventIds: events.map(({ id }) => id) }, env));
  document = unwrap(placeEvent(document, { patternId, zoneId, positionTicks: 0, lengthTicks, values }, env));
  const renderer = new Renderer(RATE);
  renderer.setPlan(compilePlan(document, RATE, { assets }));
  renderer.play();
  return renderer;
}

function render(renderer: Renderer, frames: number): Float32Array {
  const left = new Float32Array(frames);
  renderer.process(left, new Float32Array(frames), frames);
  return left;
}

const starts = (renderer: Renderer) =>
  renderer.log
    .takeAll()
    .filter(({ kind }) => kind === 'on')
    .map(({ frame }) => frame);

describe('repeats inside a strip', () => {
  it('even ones begin on the exact frames, one after the other', () => {
    const renderer = oneStrip({ repeats: 5 });
    render(renderer, BAR_FRAMES);
    expect(starts(renderer)).toEqual([0, 1, 2, 3, 4].map((place) => Math.round((place * BAR_FRAMES) / 5)));
  });

  it('drawn together each distance is a fixed share of the one before, and the last a quarter of the first', () => {
    const renderer = oneStrip({ repeats: 3, repeatPull: 1 });
    render(renderer, BAR_FRAMES);
    // 1 + 1/2 + 1/4 = 7/4: the starts lie at 0, 4/7 and 6/7.
    expect(starts(renderer)).toEqual([0, 4 / 7, 6 / 7].map((share) => Math.round(share * BAR_FRAMES)));
  });

  it('the last is as much louder as is said', () => {
    const renderer = oneStrip({ repeats: 2, repeatGainDb: -12 });
    const heard = render(renderer, BAR_FRAMES);
    const peak = (from: number) =>
      heard.subarray(from, from + 5000).reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    expect(20 * Math.log10(peak(BAR_FRAMES / 2) / peak(0))).toBeCloseTo(-12, 1);
  });
});

describe('once in so many rounds', () => {
  it('a strip is heard in the last of them only', () => {
    const renderer = oneStrip({ everyRounds: 3 }, 960);
    render(renderer, 7 * BAR_FRAMES);
    expect(starts(renderer)).toEqual([2 * BAR_FRAMES, 5 * BAR_FRAMES]);
  });
});

describe('far too many strips', () => {
  it('start no more than can be told apart, and the sound goes on', () => {
    const { audio, starts: slices } = eightStepLoop();
    const { document: empty, assets, env, partId, home } = loopProject(audio, slices);
    const copied = unwrap(copyPattern(empty, { partId, patternId: home }, env));
    const patternId = copied.parts[partId]!.activePatternId;
    const pattern = copied.patterns[patternId]!;
    const { zoneId } = Object.values(pattern.events)[0]!;
    // 3,000 strips of 32 repeats each within 15 ticks: 96,000 starts in 345 frames.
    const crowd = Array.from({ length: 3_000 }, (_, n) => ({
      id: `crowd-${n}`,
      zoneId,
      positionTicks: (15 * n) / 3_000,
      lengthTicks: 15,
      values: { repeats: 32 },
    }));
    const events = { ...pattern.events, ...Object.fromEntries(crowd.map((event) => [event.id, event])) };
    const document = { ...copied, patterns: { ...copied.patterns, [patternId]: { ...pattern, events } } };
    const renderer = new Renderer(RATE);
    renderer.setPlan(compilePlan(document, RATE, { assets }));
    renderer.play();
    const heard = render(renderer, BAR_FRAMES);
    const frames = starts(renderer);
    expect(frames.length).toBeLessThan(2_000);
    for (let from = 0; from < 1_024; from += 256) {
      expect(frames.filter((frame) => frame >= from && frame < from + 256).length).toBeLessThanOrEqual(128);
    }
    expect(heard.every(Number.isFinite)).toBe(true);
    // The steps after the crowd play as ever.
    expect(frames.filter((frame) => frame > 4_000).length).toBeGreaterThanOrEqual(7);
  });
});
