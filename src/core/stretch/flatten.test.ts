import { describe, expect, it } from 'vitest';
import { voice, VOICE_RATE } from '../../../tests/support/voice.ts';
import { seededRandom } from '../units/random.ts';
import { runToEnd } from '../units/steps.ts';
import { flattenSteps, type FlatWish } from './flatten.ts';
import { COURSE_STEP_SECONDS, pitchCourse } from './pitch-course.ts';

const SECONDS = 1.4;
const FLAT: FlatWish = { percent: 100, note: null, keepsFormants: true };
const COURSES: Record<string, (seconds: number) => number> = {
  'a voice that wavers': (s) => 57 + 0.8 * Math.sin(2 * Math.PI * 5.5 * s),
  'a glide over a fifth': (s) => 50 + 5 * s,
  'a bass that slides up': (s) => 33 + 3 * Math.min(1, s),
  'a high voice that trembles': (s) => 74 + 0.4 * Math.sin(2 * Math.PI * 4 * s),
};

const made = (samples: Float32Array, wish: Partial<FlatWish> = {}) =>
  runToEnd(flattenSteps({ sampleRate: VOICE_RATE, channels: [samples] }, { ...FLAT, ...wish }));

/** How far the pitch is from where it should be, in cents: the middle and the 95th percentile; ends left out. */
function offBy(samples: Float32Array, wanted: (seconds: number) => number) {
  const { notes } = runToEnd(pitchCourse(samples, VOICE_RATE));
  const off = [...notes].flatMap((note, i) => {
    const seconds = i * COURSE_STEP_SECONDS;
    const isEnd = seconds < 0.1 || seconds > SECONDS - 0.1;
    return isEnd || Number.isNaN(note) ? [] : [100 * Math.abs(note - wanted(seconds))];
  });
  off.sort((a, b) => a - b);
  return { middle: off[off.length >> 1]!, p95: off[Math.floor(0.95 * off.length)]!, count: off.length };
}

/** Root mean square in pieces of 20 ms. */
function levels(samples: Float32Array): number[] {
  const each = 0.02 * VOICE_RATE;
  return Array.from({ length: Math.floor(samples.length / each) }, (_, i) =>
    Math.sqrt(samples.subarray(i * each, (i + 1) * each).reduce((sum, value) => sum + value * value, 0) / each),
  );
}

describe('a pitch made flat', () => {
  for (const [name, course] of Object.entries(COURSES)) {
    it.each([true, false])(`${name} comes on one note, as long as it was (its colour stays: %s)`, (keepsFormants) => {
      const samples = voice(course, SECONDS);
      const flat = made(samples, { keepsFormants })!;
      expect(Number.isInteger(flat.note)).toBe(true);
      expect(flat.audio.channels[0]).toHaveLength(samples.length);
      const { middle, p95, count } = offBy(flat.audio.channels[0]!, () => flat.note);
      expect(count).toBeGreaterThan(150);
      // Smaller steps of pitch than about 5 cents are not heard (common practice).
      expect(middle).toBeLessThan(2);
      expect(p95).toBeLessThan(5);
    });
  }

  it('by half it wavers half as much; by nothing it is what it was', () => {
    const course = COURSES['a glide over a fifth']!;
    const samples = voice(course, SECONDS);
    const half = made(samples, { percent: 50 })!;
    const { p95 } = offBy(half.audio.channels[0]!, (s) => course(s) + 0.5 * (half.note - course(s)));
    expect(p95).toBeLessThan(5);
    const same = made(samples, { percent: 0 })!.audio.channels[0]!;
    expect(offBy(same, course).p95).toBeLessThan(5);
  });

  it('goes to the note that is wanted, between keys too', () => {
    const flat = made(voice(COURSES['a voice that wavers']!, SECONDS), { note: 59.5 })!;
    expect(flat.note).toBe(59.5);
    expect(offBy(flat.audio.channels[0]!, () => 59.5).p95).toBeLessThan(5);
  });

  it('a voice keeps its formants when it is told so, an octave down too; else they go along', () => {
    const samples = voice(() => 57, SECONDS);
    const centroid = (of: Float32Array) => {
      // Where the first formant lies: the strongest of some filters around it.
      const middle = of.subarray(20_000, 24_096);
      const power = (hz: number) => {
        let [re, im] = [0, 0];
        for (const [i, value] of middle.entries()) {
          const window = 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / middle.length);
          re += window * value * Math.cos((2 * Math.PI * hz * i) / VOICE_RATE);
          im += window * value * Math.sin((2 * Math.PI * hz * i) / VOICE_RATE);
        }
        return re * re + im * im;
      };
      const low = [300, 350, 400].reduce((sum, hz) => sum + power(hz) + power(hz + 25), 0);
      const high = [650, 700, 750].reduce((sum, hz) => sum + power(hz) + power(hz + 25), 0);
      return high / low;
    };
    const kept = made(samples, { note: 45, keepsFormants: true })!.audio.channels[0]!;
    const moved = made(samples, { note: 45, keepsFormants: false })!.audio.channels[0]!;
    expect(centroid(kept)).toBeGreaterThan(3);
    expect(centroid(moved)).toBeLessThan(1 / 3);
  });

  it('what happens inside stays at its time: a gap stays where it was', () => {
    const samples = voice(COURSES['a voice that wavers']!, SECONDS).map((value, i) =>
      i > 25_000 && i < 32_000 ? 0 : value,
    );
    const [was, is] = [levels(samples), levels(made(samples)!.audio.channels[0]!)];
    was.forEach((level, i) => {
      if (level < 1e-5 && was[i - 1]! < 1e-5 && (was[i + 1] ?? 1) < 1e-5) expect(is[i]!).toBeLessThan(0.01);
      else if (level > 0.05 && was[i - 1]! > 0.05 && (was[i + 1] ?? 0) > 0.05)
        expect(Math.abs(20 * Math.log10(is[i]! / level))).toBeLessThan(3);
    });
  });

  it('noise before a note stays as it is, sample for sample, away from where the note begins', () => {
    const random = seededRandom(2);
    const breath = Float32Array.from({ length: 12_000 }, () => 0.05 * (random() - 0.5));
    const note = voice(COURSES['a glide over a fifth']!, SECONDS);
    const samples = new Float32Array(breath.length + note.length);
    samples.set(breath);
    samples.set(note, breath.length);
    const flat = made(samples)!.audio.channels[0]!;
    for (let i = 500; i < 8_000; i += 97) expect(flat[i]!).toBeCloseTo(samples[i]!, 5);
  });

  it('both channels go together', () => {
    const samples = voice(COURSES['a voice that wavers']!, 0.6);
    const channels = [samples, samples.map((value) => -0.5 * value)];
    const flat = runToEnd(flattenSteps({ sampleRate: VOICE_RATE, channels }, FLAT))!;
    const [left, right] = flat.audio.channels as [Float32Array, Float32Array];
    for (let i = 0; i < left.length; i += 101) expect(right[i]!).toBeCloseTo(-0.5 * left[i]!, 5);
  });

  it.each([
    ['silence', () => new Float32Array(20_000)],
    ['noise', () => Float32Array.from({ length: 20_000 }, seededRandom(5)).map((value) => value - 0.5)],
    ['a single click', () => Float32Array.from({ length: 20_000 }, (_, i) => (i === 900 ? 1 : 0))],
    ['one sample', () => Float32Array.of(0.3)],
    ['nothing', () => new Float32Array(0)],
  ])('%s has no note that it could be brought to', (_, samples) => {
    expect(made(samples())).toBeNull();
  });
});
