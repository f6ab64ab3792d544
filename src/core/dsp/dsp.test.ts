import { describe, expect, it } from 'vitest';
import { mixForReading } from './audio.ts';
import { sine } from '../../../tests/support/signals.ts';
import { bandPass, filterInto, highPass, lowPass, type Biquad } from './biquad.ts';
import { PowerSpectrum } from './fft.ts';
import { buildPeaks, peakBetween, skylineOf } from './peaks.ts';
import { loudestBeside, partialsDb } from '../../../tests/support/spectrum.ts';
import { SINC_RUN, sincLeft, sincRead, sincReadRun, sincRight, sincTable } from './sinc.ts';

const RATE = 44100;

function levelAfter(section: Biquad, hz: number): number {
  const signal = sine(hz, 0.5);
  filterInto(section, signal, signal);
  return Math.max(...signal.subarray(10_000));
}

describe('filters', () => {
  it('pass and stop as the cookbook says: -3 dB at the cutoff with q 0.7071, 12 dB an octave beyond', () => {
    expect(levelAfter(lowPass(1000, Math.SQRT1_2, RATE), 1000)).toBeCloseTo(Math.SQRT1_2, 2);
    expect(levelAfter(lowPass(1000, Math.SQRT1_2, RATE), 8000)).toBeLessThan(0.02);
    expect(levelAfter(highPass(1000, Math.SQRT1_2, RATE), 1000)).toBeCloseTo(Math.SQRT1_2, 2);
    expect(levelAfter(highPass(1000, Math.SQRT1_2, RATE), 125)).toBeLessThan(0.02);
    expect(levelAfter(bandPass(1000, 2, RATE), 1000)).toBeCloseTo(1, 2);
  });
});

describe('spectrum', () => {
  it('puts a sine into its bin', () => {
    const spectrum = new PowerSpectrum(1024);
    const power = new Float32Array(spectrum.binCount);
    spectrum.measure(sine((40 * RATE) / 1024, 0.1), 0, power);
    expect(power.indexOf(Math.max(...power))).toBe(40);
    // A Hann window of N samples sums to N/2; half of the sine's energy lies at the positive frequency.
    expect(power[40]! / (1024 / 4) ** 2).toBeCloseTo(1, 3);
    expect(power[60]!).toBeLessThan(1e-4);
  });

  it('refuses sizes that are no power of two', () => {
    expect(() => new PowerSpectrum(1000)).toThrow(/1000/);
  });
});

describe('reading between samples', () => {
  it('follows a sine to within -70 dB far below half the rate', () => {
    const signal = sine(1000, 0.1);
    const table = sincTable(1);
    for (let at = 100.31; at < 4000; at += 37.17) {
      expect(Math.abs(sincRead(table, signal, at) - Math.sin((2 * Math.PI * 1000 * at) / RATE))).toBeLessThan(3e-4);
    }
  });

  it('gives samples back exactly at whole positions', () => {
    const signal = Float32Array.from({ length: 64 }, (_, i) => ((i * 37) % 19) / 19 - 0.5);
    for (let at = 10; at < 50; at++) expect(sincRead(sincTable(1), signal, at)).toBeCloseTo(signal[at]!, 6);
  });

  it('reads runs of two channels as it reads single values, at the ends, too', () => {
    const left = sine(440, 0.01);
    const right = sine(990, 0.01);
    const table = sincTable(1);
    for (const [start, step] of [
      [-3.3, 0.77],
      [440.2, -1.13],
      [100, 1],
    ] as const) {
      const end = sincReadRun(table, left, right, start, step, 400);
      let position = start;
      for (let i = 0; i < 400; i++) {
        expect(sincLeft[i]).toBeCloseTo(sincRead(table, left, position), 6);
        expect(sincRight[i]).toBeCloseTo(sincRead(table, right, position), 6);
        position += step;
      }
      expect(end).toBe(position);
    }
  });

  it('gives the same bits however a run is divided, forwards, backwards and at great speed', () => {
    const left = sine(440, 0.5);
    const right = sine(990, 0.5);
    for (const [start, step] of [
      [3.7, 0.77],
      [20_000.2, -1.13],
      [100.5, 41.3],
    ] as const) {
      const end = sincReadRun(sincTable(step), left, right, start, step, 500);
      const whole = [sincLeft.slice(0, 500), sincRight.slice(0, 500)] as const;
      let position: number = start;
      for (let at = 0, count = 1; at < 500; at += count, count = Math.min(500 - at, count * 2)) {
        position = sincReadRun(sincTable(step), left, right, position, step, count);
        expect(sincLeft.slice(0, count)).toEqual(whole[0].slice(at, at + count));
        expect(sincRight.slice(0, count)).toEqual(whole[1].slice(at, at + count));
      }
      expect(position).toBe(end);
    }
  });

  it('sees nothing of what lies outside the range it is given: the next hit does not bleed in', () => {
    const signal = new Float32Array(200);
    signal[49] = signal[100] = 1;
    const loudest = (...range: [number, number] | []) => {
      sincReadRun(sincTable(1), signal, signal, 50.3, 1, 50, ...range);
      return Math.max(...sincLeft.subarray(0, 50).map(Math.abs));
    };
    expect(loudest()).toBeGreaterThan(0.2);
    expect(loudest(50, 100)).toBe(0);
  });

  const LOUD = 10 ** (-12 / 20);

  /** Read at a speed, in dB of a full sine: of what was a tone, and the loudest of all else. */
  function readAt(hz: number, speed: number): { toneDb: number; restDb: number } {
    const frames = 16_384;
    // As loud as music is; levels are told as of a full tone.
    const signal = sine(hz, ((frames + 4_000) * speed + 8_000) / RATE).map((x) => x * LOUD);
    const out = new Float32Array(frames);
    const table = sincTable(speed);
    let position = 4_000.37;
    for (let at = 0; at < frames; at += SINC_RUN) {
      position = sincReadRun(table, signal, signal, position, speed, SINC_RUN);
      out.set(sincLeft.subarray(0, SINC_RUN), at);
    }
    const level = partialsDb(out, RATE, 0, frames);
    const toneHz = hz * speed;
    const restDb = loudestBeside(out, RATE, 0, frames, toneHz < RATE / 2 ? [toneHz] : [], 60);
    return { toneDb: toneHz < RATE / 2 ? level(toneHz) + 12 : -Infinity, restDb };
  }
  const semitones = (steps: number) => 2 ** (steps / 12);

  // What is asked of it: treble kept, -3 dB at the worst, and nothing folded back above -80 dB, of a tone of -12.
  it.each([
    ['at its own pitch, half a frame off', 1, 20_000],
    ['of a source of 48 kHz at its own pitch', 48 / 44.1, 20_000],
    ['of a source of 88.2 kHz at its own pitch', 2, 19_000],
    ['of a source of 96 kHz at its own pitch', 96 / 44.1, 20_000],
    ['of a source of 192 kHz at its own pitch', 192 / 44.1, 20_000],
    ['a semitone up', semitones(1), 19_000],
    ['three semitones up', semitones(3), 19_000],
    ['seven semitones up', semitones(7), 18_000],
    ['an octave up', 2, 18_000],
    ['two octaves up', 4, 18_000],
    ['four octaves up', 16, 17_000],
  ])('%s (speed %d) keeps %d Hz', (_what, speed, hz) => {
    expect(readAt(hz / speed, speed).toneDb).toBeGreaterThan(-3);
    expect(readAt(hz / speed / 1.12, speed).toneDb).toBeGreaterThan(-1);
  });

  it.each([1, 3, 7, 12, 19, 24, 27, 36, 48])('%d semitones up folds nothing back above -80 dB', (steps) => {
    const speed = semitones(steps);
    for (const hz of [1_000, 5_000, 10_000, 11_500, 14_000, 18_000, 20_000, 21_500]) {
      expect([hz, readAt(hz, speed).restDb < -80]).toEqual([hz, true]);
    }
  });

  it.each([-1, -7, -12, -24])('%d semitones down leaves no image above -70 dB', (steps) => {
    for (const hz of [1_000, 10_000, 18_000, 20_000]) {
      expect([hz, readAt(hz, semitones(steps)).restDb < -70]).toEqual([hz, true]);
    }
  });
});

describe('the signal that is read', () => {
  it('is the mean of the channels, also of one that is silent or far softer', () => {
    const left = sine(440, 0.1);
    for (const share of [1, 0.5, 0.1, 0]) {
      const right = left.map((sample) => share * sample);
      const read = mixForReading({ sampleRate: RATE, channels: [left, right] });
      expect(read[25]).toBeCloseTo(((1 + share) / 2) * left[25]!, 6);
    }
    // Two sounds that have nothing to do with each other.
    const other = sine(991, 0.1);
    expect(mixForReading({ sampleRate: RATE, channels: [left, other] })[30]).toBeCloseTo(
      (left[30]! + other[30]!) / 2,
      6,
    );
  });

  it('is the louder channel where they cancel each other, and the only one where there is one', () => {
    const left = sine(440, 0.1);
    const turned = left.map((sample) => -0.9 * sample);
    expect(mixForReading({ sampleRate: RATE, channels: [left, turned] })).toBe(left);
    expect(mixForReading({ sampleRate: RATE, channels: [turned, left] })).toBe(left);
    expect(mixForReading({ sampleRate: RATE, channels: [turned] })).toBe(turned);
    expect(mixForReading({ sampleRate: RATE, channels: [new Float32Array(9), new Float32Array(9)] })).toHaveLength(9);
    expect(mixForReading({ sampleRate: RATE, channels: [new Float32Array(1), new Float32Array(1)] })).toHaveLength(1);
  });

  it('is the louder channel where their treble alone is turned round', () => {
    const low = sine(110, 0.2);
    const high = sine(9000, 0.2).map((sample) => 0.1 * sample);
    const wide = [low.map((sample, i) => sample + high[i]!), low.map((sample, i) => 0.9 * sample - high[i]!)];
    expect(mixForReading({ sampleRate: RATE, channels: wide })).toBe(wide[0]);
    expect(mixForReading({ sampleRate: RATE, channels: [...wide].reverse() })).toBe(wide[0]);
    // On one side only it is still there.
    const panned = mixForReading({ sampleRate: RATE, channels: [wide[0]!, low] });
    expect(panned[50]).toBeCloseTo((wide[0]![50]! + low[50]!) / 2, 6);
  });
});

describe('peaks', () => {
  const signal = Float32Array.from({ length: 100_000 }, (_, i) => (i === 77_777 ? -0.9 : 0.1 * Math.sin(i)));
  const peaks = buildPeaks({ sampleRate: RATE, channels: [signal] });

  it('keep every peak at every zoom', () => {
    expect(peakBetween(peaks, 0, 100_000)).toBeCloseTo(0.9);
    for (const frames of [10, 64, 100, 130, 1000, 7000]) {
      const side = Array.from(
        { length: Math.ceil(100_000 / frames) },
        (_, i) => [i * frames, (i + 1) * frames] as const,
      );
      const found = side.filter(([from, to]) => peakBetween(peaks, from, to) > 0.5);
      // One of them, or all that lie within the finest stretch.
      expect(found.length, `${frames} frames each`).toBeGreaterThan(0);
      expect(found.length, `${frames} frames each`).toBeLessThanOrEqual(Math.ceil(64 / frames) + 1);
    }
    expect(peakBetween(peaks, 10_000, 20_000)).toBeLessThan(0.11);
  });

  it('show nothing of the attack that comes right after, and all of the end of a sound', () => {
    const attackFrame = 77_725;
    const struck = new Float32Array(attackFrame + 10).fill(0.01, 0, attackFrame).fill(0.8, attackFrame);
    const peaks = buildPeaks({ sampleRate: RATE, channels: [struck] });
    for (const frames of [40, 200, 900, 13_799])
      expect(peakBetween(peaks, attackFrame - frames, attackFrame), `${frames} before`).toBeCloseTo(0.01);
    expect(peakBetween(peaks, attackFrame, struck.length)).toBeCloseTo(0.8);
  });

  it('make a skyline for lists', () => {
    const skyline = skylineOf(peaks, 10);
    expect(skyline).toHaveLength(10);
    expect(skyline[7]).toBe(0.9);
  });
});
