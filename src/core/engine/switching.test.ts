/** One pattern takes over from another while they play: when, on which frame, and in the middle of what. */
import { describe, expect, it } from 'vitest';
import { deal } from '#core/project/commands/deal.ts';
import { resizeEvents } from '#core/project/commands/events.ts';
import { choosePattern, copyPattern } from '#core/project/commands/patterns.ts';
import { transformEvents } from '#core/project/commands/transform.ts';
import { eventsOf } from '#core/queries/patterns.ts';
import type { SongValues } from '#core/params/tables.ts';
import { countingEnv, unwrap } from '../../../tests/support/documents.ts';
import { setEvents, setSong } from '../../../tests/support/edits.ts';
import { LiveSong, play, planOf, set, shortBursts } from '../../../tests/support/playing.ts';

const RATE = 44_100;
const BEAT = RATE / 2;
const BAR = 4 * BEAT;
const env = { ...countingEnv(), newId: () => crypto.randomUUID() };

/** A bar of eight bursts at 120 bpm: the home pattern, and the same backwards in time. */
function twoPatterns(changesAt: SongValues['changesAt'], bars = 1) {
  const made = set(shortBursts(), { oneAtATime: true });
  const { partId, home } = made;
  const settled = unwrap(setSong(made.document, { changesAt, tempoBpm: 120 }));
  const copied = unwrap(copyPattern(settled, { partId, patternId: home }, env));
  const other = copied.parts[partId]!.activePatternId;
  const eventIds = eventsOf(copied, other).map(({ id }) => id);
  const turned = unwrap(
    transformEvents(copied, { patternId: other, eventIds, transform: 'mirror', gridTicks: 240 }, env),
  );
  const pattern = turned.patterns[other]!;
  const long = { ...turned, patterns: { ...turned.patterns, [other]: { ...pattern, lengthTicks: bars * 3840 } } };
  const choose = (patternId: string) => unwrap(choosePattern(long, { partId, patternId }, env));
  return { ...made, other, onHome: choose(home), onOther: choose(other) };
}

/** Largest difference of two stretches. */
function difference(a: Float32Array, b: Float32Array, from: number, to: number): number {
  let most = 0;
  for (let i = from; i < to; i++) most = Math.max(most, Math.abs(a[i]! - b[i]!));
  return most;
}

describe('another pattern', () => {
  const ASKED = Math.round(1.3 * BEAT);

  it.each([
    ['beat', 2 * BEAT],
    ['bar', BAR],
    ['round', BAR],
  ] as const)('takes over at the next %s, on its frame', (changesAt, frame) => {
    const made = twoPatterns(changesAt);
    const song = new LiveSong(made.onHome, made.assets);
    song.renderer.play();
    const heard = new Float32Array(2 * BAR);
    heard.set(song.next(ASKED));
    song.edit(made.onOther);
    expect(song.renderer.takePartStatus()).toMatchObject([{ playing: made.home, waiting: made.other }]);
    heard.set(song.next(2 * BAR - ASKED), ASKED);
    expect(song.renderer.takePartStatus()).toMatchObject([{ playing: made.other, waiting: null }]);
    const before = play(planOf({ ...made, document: made.onHome }), 2 * BAR);
    const after = play(planOf({ ...made, document: made.onOther }), 2 * BAR);
    expect(difference(before, after, 0, 2 * BAR)).toBeGreaterThan(0.1);
    expect(difference(heard, before, 0, frame)).toBe(0);
    // What is cut off fades for 3 ms.
    expect(difference(heard, after, frame + 200, 2 * BAR)).toBe(0);
  });

  it('at once goes on with what sounds in its new pitch and level, from its own place', () => {
    const made = twoPatterns('now');
    const { partId, home } = made;
    const copied = unwrap(copyPattern(made.onHome, { partId, patternId: home }, env));
    const patternId = copied.parts[partId]!.activePatternId;
    const [first] = eventsOf(copied, patternId);
    const settings = { tuneCents: 1200, gainDb: -12 };
    const eventIds = [first!.id];
    const long = unwrap(resizeEvents(copied, { patternId, eventIds, lengthTicks: 470 }, env));
    const higher = unwrap(setEvents(long, { patternId, eventIds, settings }, env));
    const plain = unwrap(choosePattern(higher, { partId, patternId: home }, env));
    const asked = 1_000;
    const song = new LiveSong(plain, made.assets);
    song.renderer.play();
    const heard = new Float32Array(BEAT);
    heard.set(song.next(asked));
    song.edit(higher);
    heard.set(song.next(BEAT - asked), asked);
    const before = play(planOf({ ...made, document: plain }), BEAT);
    const after = play(planOf({ ...made, document: higher }), BEAT);
    expect(difference(before, after, asked, 4_000)).toBeGreaterThan(0.05);
    expect(difference(heard, before, 0, asked)).toBe(0);
    // Its own place: the same samples as if it had been played so from its start, once what was before has faded.
    expect(difference(heard, after, asked + 600, BEAT)).toBeLessThan(1e-6);
  });

  it('waits for the end of a long one', () => {
    const made = twoPatterns('round', 2);
    const song = new LiveSong(made.onOther, made.assets);
    song.renderer.play();
    song.next(ASKED);
    song.edit(made.onHome);
    song.next(2 * BAR - ASKED - 10);
    expect(song.renderer.takePartStatus()).toMatchObject([{ playing: made.other, waiting: made.home }]);
    song.next(20);
    expect(song.renderer.takePartStatus()).toMatchObject([{ playing: made.home, waiting: null }]);
  });

  it.each([0.5, 1.3, 2.02, 3.99])('takes over at once, in the middle of what it plays %f beats on', (beats) => {
    const made = twoPatterns('now');
    const asked = Math.round(beats * BEAT);
    const song = new LiveSong(made.onHome, made.assets);
    song.renderer.play();
    const heard = new Float32Array(2 * BAR);
    heard.set(song.next(asked));
    song.edit(made.onOther);
    heard.set(song.next(2 * BAR - asked), asked);
    const after = play(planOf({ ...made, document: made.onOther }), 2 * BAR);
    expect(difference(heard, after, asked + 200, 2 * BAR)).toBeLessThan(1e-6);
  });

  it('that is called off before its turn does not come', () => {
    const made = twoPatterns('bar');
    const song = new LiveSong(made.onHome, made.assets);
    song.renderer.play();
    song.next(ASKED);
    song.edit(made.onOther);
    song.edit(made.onHome);
    expect(song.renderer.takePartStatus()).toMatchObject([{ playing: made.home, waiting: null }]);
    song.next(BAR);
    expect(song.renderer.takePartStatus()).toMatchObject([{ playing: made.home }]);
  });
});

describe('another hand', () => {
  it('waits for its turn; what is changed by hand is heard at once', () => {
    const made = twoPatterns('bar');
    const { partId } = made;
    const dealt = unwrap(deal(made.onOther, { partId, reachPercent: 100, seed: 3 }, env));
    const song = new LiveSong(made.onOther, made.assets);
    song.renderer.play();
    const heard = new Float32Array(2 * BAR);
    heard.set(song.next(BEAT));
    song.edit(dealt);
    expect(song.renderer.takePartStatus()).toMatchObject([{ playing: made.other, waiting: made.other }]);
    heard.set(song.next(2 * BAR - BEAT), BEAT);
    const before = play(planOf({ ...made, document: made.onOther }), 2 * BAR);
    const after = play(planOf({ ...made, document: dealt }), 2 * BAR);
    expect(difference(heard, before, 0, BAR)).toBe(0);
    expect(difference(heard, after, BAR + 200, 2 * BAR)).toBe(0);
    const last = eventsOf(dealt, made.other).at(-1)!;
    song.edit(unwrap(resizeEvents(dealt, { patternId: made.other, eventIds: [last.id], lengthTicks: 60 }, env)));
    expect(song.renderer.takePartStatus()).toMatchObject([{ playing: made.other, waiting: null }]);
  });
});

describe('a key', () => {
  it('holds a pattern while it is pressed, and gives the place back', () => {
    const made = twoPatterns('now');
    const song = new LiveSong(made.onHome, made.assets);
    song.renderer.play();
    const heard = new Float32Array(BAR);
    heard.set(song.next(BEAT));
    song.renderer.holdPattern(made.partId, made.other);
    heard.set(song.next(BEAT), BEAT);
    song.renderer.holdPattern(made.partId, null);
    heard.set(song.next(2 * BEAT), 2 * BEAT);
    const home = play(planOf({ ...made, document: made.onHome }), BAR);
    const other = play(planOf({ ...made, document: made.onOther }), BAR);
    expect(difference(heard, home, 0, BEAT)).toBe(0);
    expect(difference(heard, other, BEAT + 200, 2 * BEAT)).toBeLessThan(1e-6);
    expect(difference(heard, home, 2 * BEAT + 200, BAR)).toBeLessThan(1e-6);
  });

  it('lets a part rest from the next beat on, and others go on', () => {
    const made = twoPatterns('beat');
    const song = new LiveSong(made.onHome, made.assets);
    song.renderer.play();
    song.next(Math.round(0.4 * BEAT));
    song.renderer.holdPattern(made.partId, '');
    const rest = song.next(2 * BEAT);
    expect(Math.max(...rest.subarray(0, Math.round(0.5 * BEAT)))).toBeGreaterThan(0.1);
    expect(rest.subarray(Math.round(0.61 * BEAT)).every((sample) => sample === 0)).toBe(true);
    song.renderer.holdPattern(made.partId, null);
    expect(Math.max(...song.next(2 * BEAT))).toBeGreaterThan(0.1);
    // At once it cuts off what sounds, with a fade.
    const short = twoPatterns('now');
    const cut = new LiveSong(short.onHome, short.assets);
    cut.renderer.play();
    expect(Math.max(...cut.next(1_000))).toBeGreaterThan(0.1);
    cut.renderer.holdPattern(short.partId, '');
    expect(
      cut
        .next(2_000)
        .subarray(200)
        .every((sample) => sample === 0),
    ).toBe(true);
    // A part that is gone, and a pattern that is: nothing happens.
    song.renderer.holdPattern('nobody', 'nothing');
    song.renderer.holdPattern(made.partId, 'nothing');
    expect(song.renderer.takePartStatus()).toMatchObject([{ waiting: null }]);
  });
});
