import { describe, expect, it } from 'vitest';
import { seededRandom } from '../units/random.ts';
import { analyseSource, describeSlices } from './analyse-source.ts';
import { isTuned } from './in-tune.ts';

const RATE = 44_100;
const LENGTH_SECONDS = 0.3;
const LENGTH = Math.round(LENGTH_SECONDS * RATE);
const at = (midi: number, cents: number) => ({ midi, cents });

describe('pitches of one tuning', () => {
  const melody = [60, 62, 64, 67, 60, 64, 69, 62, 60].map((midi, n) => at(midi, 12 + (n % 3)));

  it('are those of a melody, whatever it is tuned to', () => {
    expect(isTuned(melody)).toBe(true);
    expect(isTuned(melody.map(({ midi, cents }) => at(midi, cents - 60)))).toBe(true);
  });

  it('are not those of drums: few notes, each of its own', () => {
    expect(isTuned(melody.map(({ cents }, n) => at(45 + 5 * (n % 3), cents)))).toBe(false);
    expect(isTuned(melody.map(({ midi }, n) => at(midi, (37 * n) % 100)))).toBe(false);
    expect(isTuned(melody.slice(0, 6))).toBe(false);
    expect(isTuned([...melody, ...new Array<null>(12).fill(null)])).toBe(false);
  });
});

describe('a loop of struck bars', () => {
  /** Bars of wood: the fundamental, and a partial two octaves above (common practice for tuned bars). */
  const struck = (hz: readonly number[]) => {
    const out = new Float32Array(hz.length * LENGTH);
    const random = seededRandom(3);
    hz.forEach((one, n) => {
      for (let i = 0; i < LENGTH; i++) {
        const time = i / RATE;
        const bar = Math.sin(2 * Math.PI * one * time) * Math.exp(-time * 10);
        const over = 0.3 * Math.sin(2 * Math.PI * 3.93 * one * time) * Math.exp(-time * 32);
        out[n * LENGTH + i] = 0.5 * (bar + over) + 0.05 * (2 * random() - 1) * Math.exp(-time * 300);
      }
    });
    return out;
  };
  const described = (hz: readonly number[]) => {
    const ranges = hz.map((_, n) => ({ startFrame: n * LENGTH, endFrame: (n + 1) * LENGTH }));
    const analysis = analyseSource({ sampleRate: RATE, channels: [struck(hz)] });
    return { roles: describeSlices(analysis, ranges).map(({ role }) => role), analysis, ranges };
  };

  it('is notes where it is a melody, also for one slice beside the others; drums where it is not', () => {
    const notes = [0, 4, 7, 12, 7, 4, 2, 5, 9, 5, 2, 0].map((note) => 220 * 2 ** (note / 12));
    const { roles, analysis, ranges } = described(notes);
    expect(new Set(roles)).toEqual(new Set(['note']));
    expect(describeSlices(analysis, ranges.slice(3, 4), ranges)[0]!.role).toBe('note');
    const drums = described([180, 131, 97, 180, 131, 131, 180, 97, 180, 131, 97, 97]);
    expect(drums.roles).not.toContain('note');
  });
});
