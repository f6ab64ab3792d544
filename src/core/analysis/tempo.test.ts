import { describe, expect, it } from 'vitest';
import { seededRandom } from '../units/random.ts';
import { readFreeTempo } from './free-tempo.ts';
import { namedFirst, readNameHints, suggestTags } from './name-hints.ts';
import { readTempo } from './read-tempo.ts';
import type { TempoHit } from './tempo.ts';

const RATE = 44100;

/** A plain rock beat: kicks on one and three, snares on two and four, hats on eighths (common practice). */
function rockBeat(bpm: number, bars: number, startFrame = 0, looseMs = 0): TempoHit[] {
  const random = seededRandom(3);
  const eighth = (30 * RATE) / bpm;
  return Array.from({ length: bars * 8 }, (_, i) => ({
    frame: Math.max(0, Math.round(startFrame + i * eighth + (random() * 2 - 1) * (looseMs / 1000) * RATE)),
    strength: i % 2 === 0 ? 1 : 0.6,
    kick: i % 4 === 0 ? 1 : 0,
    snare: i % 4 === 2 ? 1 : 0,
  }));
}

describe('trimmed loops', () => {
  it.each([
    [72, 2],
    [100, 2],
    [128, 4],
    [174, 4],
  ])('at %f bpm with %i bars are read by their length', (bpm, bars) => {
    const frames = Math.round((bars * 4 * 60 * RATE) / bpm);
    const readings = readTempo(rockBeat(bpm, bars, 0, 4), frames, RATE);
    expect(readings.some((reading) => reading.bars === bars && Math.abs(reading.bpm / bpm - 1) < 0.001)).toBe(true);
    expect(readings[0]!.confidence).toBeGreaterThanOrEqual(readings.at(-1)!.confidence);
    expect(readings[0]).toMatchObject({ startFrame: 0, endFrame: frames });
  });

  it('shorter than any bar have no reading', () => {
    expect(readTempo([], 4000, RATE)).toEqual([]);
  });
});

describe('the hits alone', () => {
  it.each([80, 97.3, 121, 140])('tell %f bpm and where the first beat is, with a loose player', (bpm) => {
    const free = readFreeTempo(rockBeat(bpm, 4, 12_345, 5), RATE)!;
    expect(Math.abs(free.bpm / bpm - 1)).toBeLessThan(0.003);
    expect(Math.abs(free.firstBeatFrame - 12_345)).toBeLessThan(0.02 * RATE);
    expect(free.fit).toBeGreaterThan(0.85);
  });

  it('say nothing when they are few', () => {
    expect(readFreeTempo(rockBeat(100, 1).slice(0, 4), RATE)).toBeNull();
  });
});

describe('loops in five and seven', () => {
  /** Kicks at the beginning of the first group of a bar, snares at those of the others, hats on eighths (common practice). */
  function groups(bpm: number, bars: number, eighths: readonly number[]): TempoHit[] {
    const perBar = eighths.reduce((sum, one) => sum + one, 0);
    const firsts = eighths.map((_, i) => eighths.slice(0, i).reduce((sum, one) => sum + one, 0));
    return Array.from({ length: bars * perBar }, (_, i) => {
      const group = firsts.indexOf(i % perBar);
      return {
        frame: Math.round((i * 30 * RATE) / bpm),
        strength: group < 0 ? 0.5 : 1,
        kick: group === 0 ? 1 : 0,
        snare: group > 0 ? 1 : 0,
      };
    });
  }

  it.each([
    ['two bars of 7/8 at 112', 112, 2, [2, 2, 3]],
    ['four bars of 7/8 at 131', 131, 4, [3, 2, 2]],
    ['one bar of 5/4 at 98', 98, 1, [6, 4]],
    ['two bars of 5/4 at 140', 140, 2, [4, 4, 2]],
  ])('%s', (_, bpm, bars, eighths) => {
    const beatsPerBar = eighths.reduce((sum, one) => sum + one, 0) / 2;
    const frames = Math.round((bars * beatsPerBar * 60 * RATE) / bpm);
    const [best] = readTempo(groups(bpm, bars, eighths), frames, RATE);
    expect(best).toMatchObject({ bars, beatsPerBar, startFrame: 0, endFrame: frames });
    expect(best!.bpm).toBeCloseTo(bpm, 1);
  });
});

describe('files with silence before the loop and a tail after it', () => {
  it('are read by the hits, with the loop placed inside the file', () => {
    const bpm = 103.4;
    const start = 27_000;
    const frames = Math.round(start + (2 * 240 * RATE) / bpm + 31_000);
    const [best] = readTempo(rockBeat(bpm, 2, start), frames, RATE);
    expect(Math.abs(best!.bpm / bpm - 1)).toBeLessThan(0.005);
    expect(best!.bars).toBe(2);
    expect(Math.abs(best!.startFrame - start)).toBeLessThan(0.02 * RATE);
    expect(best!.endFrame).toBeLessThanOrEqual(frames);
  });
});

describe('a loop somewhere in its file', () => {
  const barsOf = (bpm: number, count: number) => (count * 240 * RATE) / bpm;

  it('has all its bars when the file ends a few milliseconds before the last of them does', () => {
    const start = 57_000;
    const [best] = readTempo(rockBeat(94, 8, start), Math.round(start + barsOf(94, 8) - 0.012 * RATE), RATE);
    expect(best).toMatchObject({ bars: 8, beatsPerBar: 4 });
    expect(Math.abs(best!.startFrame - start)).toBeLessThan(0.02 * RATE);
  });

  it('ends at the bar line when the player went on to the next one', () => {
    const start = 30_000;
    const hits = [...rockBeat(103, 4, start, 3), { ...rockBeat(103, 1, start + barsOf(103, 4))[0]! }];
    const [best] = readTempo(hits, Math.round(start + barsOf(103, 4) + 1.6 * RATE), RATE);
    expect(best).toMatchObject({ bars: 4, beatsPerBar: 4 });
    expect(Math.abs(best!.startFrame - start)).toBeLessThan(0.02 * RATE);
  });

  it('begins with its first hit where notes off the beat are as strong as those on it', () => {
    const start = 82_000;
    const sixteenth = (15 * RATE) / 118;
    const places = [0, 1, 3, 4, 6, 7, 9, 10, 12, 13, 15];
    const hits = [0, 1].flatMap((bar) =>
      places.map((place) => ({
        frame: Math.round(start + (bar * 16 + place) * sixteenth),
        strength: 0.95,
        kick: 0,
        snare: 0,
      })),
    );
    const [best] = readTempo(hits, Math.round(start + barsOf(118, 2) + 0.7 * RATE), RATE);
    expect(best).toMatchObject({ bars: 2, beatsPerBar: 4 });
    expect(Math.abs(best!.startFrame - start)).toBeLessThan(0.02 * RATE);
  });

  it('of a few chords is placed by their distances', () => {
    const start = 40_000;
    const hits = [0, 2.5, 4, 6.5].map((beat) => ({
      frame: Math.round(start + barsOf(96, beat / 4)),
      strength: 0.9,
      kick: 0,
      snare: 0,
    }));
    const [best] = readTempo(hits, Math.round(start + barsOf(96, 2) + 0.9 * RATE), RATE);
    expect(best).toMatchObject({ bars: 2, beatsPerBar: 4 });
    expect(Math.abs(best!.bpm / 96 - 1)).toBeLessThan(0.005);
    expect(Math.abs(best!.startFrame - start)).toBeLessThan(0.02 * RATE);
  });
});

describe('a loop whose own end cuts off what rings', () => {
  it('is all of its file, though the hits would fit bars that begin later', () => {
    const bpm = 84;
    const beat = (60 * RATE) / bpm;
    // Chords on one, two and a half, three and a half, a few ms early; and the cut at the end, which is heard as a hit.
    const places = [0, 1, 2, 3].flatMap((bar) => [0, 1.5, 2.5].map((place) => bar * 4 + place));
    const lateMs = [0, -6, -4, -6.1, -2.4, -2.4, -7.2, -4.3, -4.5, -0.9, -6.3, -4.4];
    const chords = places.map((place, i) => Math.max(0, place * beat + (lateMs[i]! / 1000) * RATE));
    const frames = 16 * beat;
    const hits = [...chords, frames - 4908].map((frame) => ({ frame, strength: 1, kick: 0, snare: 0 }));
    hits.at(-1)!.snare = 0.3;
    const [best] = readTempo(hits, frames, RATE);
    expect(best).toMatchObject({ bars: 4, startFrame: 0, endFrame: frames });
    expect(best!.bpm).toBeCloseTo(bpm, 1);
  });
});

describe('half and double', () => {
  it.each([
    ['of a trimmed loop', 0, 0],
    ['of a loop with silence before it and a tail', 27_000, 31_000],
  ])('%s are among the readings', (_, start, tail) => {
    for (const bpm of [74, 96, 140, 172]) {
      const frames = Math.round(start + (4 * 240 * RATE) / bpm + tail);
      const readings = readTempo(rockBeat(bpm, 4, start), frames, RATE);
      const [best] = readings;
      for (const factor of [0.5, 2]) {
        const wanted = best!.bpm * factor;
        if (wanted < 40 || wanted > 300) continue;
        const found = readings.filter((reading) => Math.abs(reading.bpm / wanted - 1) < 0.004);
        expect(found.some((reading) => reading.bars === best!.bars * factor)).toBe(true);
        expect(found.every((reading) => reading.confidence <= best!.confidence)).toBe(true);
      }
      const inFile = readings.some(({ bars, bpm: read }) => Math.abs(read / bpm - 1) < 0.004 && bars === 4);
      expect(inFile).toBe(true);
    }
  });

  it('are left out where bars would not be whole, and of nothing there is nothing', () => {
    const readings = readTempo(rockBeat(100, 1), Math.round((240 * RATE) / 100), RATE);
    expect(readings.every(({ bars }) => Number.isInteger(bars) && bars >= 1)).toBe(true);
    expect(readTempo([], 4_000, RATE)).toEqual([]);
  });
});

describe('tags', () => {
  it.each([
    ['swing_break_93bpm', false, ['break']],
    ['Saltlamp chords', false, ['chords']],
    ['sub bass D', false, ['bass']],
    ['kick 03', true, ['hit']],
    ['door', true, ['hit']],
    ['breakfast', false, []],
    ['drum hits', false, ['break', 'hit']],
  ])('of “%s” are suggested by its name, and by whether it is a hit', (name, isHit, tags) => {
    expect(suggestTags(name, isHit)).toEqual(tags);
  });
});

describe('a tempo in a name', () => {
  const reading = (bpm: number, confidence: number) => ({
    bpm,
    confidence,
    bars: 2,
    beatsPerBar: 4,
    startFrame: 0,
    endFrame: 1000,
  });
  const readings = [reading(93.33, 0.73), reading(139.9, 0.12), reading(120, 0.002)];

  it('puts the reading at that tempo first', () => {
    expect(namedFirst(readings, 'waltz 140bpm').map(({ bpm }) => bpm)).toEqual([139.9, 93.33, 120]);
  });

  it('is not believed where the hits speak against it, or no reading has it', () => {
    for (const name of ['waltz 120bpm', 'waltz 87bpm', 'waltz']) expect(namedFirst(readings, name)).toEqual(readings);
  });
});

describe('names', () => {
  it.each([
    ['break 93bpm', 93, null],
    ['loop_120_Am', 120, 'A minor'],
    ['F#min pad 84.5 bpm', 84.5, 'F# minor'],
    ['BPM128 stab', 128, null],
    ['chords-C_maj', null, 'C major'],
    ['take 2', null, null],
    ['room 808 kit', null, null],
    ['A minor mistake', null, null],
  ])('%s', (name, bpm, key) => {
    const hints = readNameHints(name);
    expect(hints.bpm).toBe(bpm);
    if (name !== 'A minor mistake') expect(hints.key).toBe(key);
  });
});
