import { describe, expect, it } from 'vitest';
import { pitchHz } from '../../../tests/support/playing.ts';
import { burstLoop, firstDifference, sine } from '../../../tests/support/signals.ts';
import type { AudioData } from '../dsp/audio.ts';
import { resampleFine } from '../dsp/fine-resample.ts';
import { PhaseVocoder } from './phase-vocoder.ts';
import { MATERIALS } from '../params/choices.ts';
import { retime, type Attack, type Retiming } from './retime.ts';

const RATE = 44100;
const WAYS: Retiming = { mode: 'stretch', ratio: 1, semitones: 0, tail: 'ring', material: 'mixes' };
const attacksAt = (...frames: number[]): Attack[] => frames.map((frame) => ({ frame }));
const monoOf = (samples: Float32Array): AudioData => ({ sampleRate: RATE, channels: [samples] });

/** The sine of a frequency that fits best: its amplitude, and how far everything else lies below it in dB. */
function fitSine(
  signal: Float32Array,
  hz: number,
  from: number,
  to: number,
): { amplitude: number; residualDb: number } {
  let cosine = 0;
  let sinus = 0;
  for (let i = from; i < to; i++) {
    cosine += signal[i]! * Math.cos((2 * Math.PI * hz * i) / RATE);
    sinus += signal[i]! * Math.sin((2 * Math.PI * hz * i) / RATE);
  }
  cosine *= 2 / (to - from);
  sinus *= 2 / (to - from);
  let residual = 0;
  for (let i = from; i < to; i++) {
    const phase = (2 * Math.PI * hz * i) / RATE;
    residual += (signal[i]! - cosine * Math.cos(phase) - sinus * Math.sin(phase)) ** 2;
  }
  const amplitude = Math.hypot(cosine, sinus);
  return { amplitude, residualDb: 10 * Math.log10(residual / (to - from) / (amplitude ** 2 / 2)) };
}

function energy(signal: Float32Array, from: number, to: number): number {
  let sum = 0;
  for (let i = Math.max(0, from); i < Math.min(to, signal.length); i++) sum += signal[i]! ** 2;
  return sum;
}

/** Energy of the difference of two signals. */
function energyOf(a: Float32Array, b: Float32Array, from: number, to: number): number {
  return energy(
    a.map((value, i) => value - b[i]!),
    from,
    to,
  );
}

describe('a steady sine', () => {
  it.each([
    [110, 0.7],
    [440, 1.3],
    [1234.5, 1.9],
  ])('of %i Hz at %f of its length stays level, pure and at its pitch', (hz, ratio) => {
    const out = retime(monoOf(sine(hz, 3)), [], { ...WAYS, ratio }).channels[0]!;
    expect(out.length).toBe(Math.round(3 * RATE * ratio));
    const from = Math.round(out.length * 0.2);
    const to = Math.round(out.length * 0.8);
    // A fit at the source's frequency over 0.6 of the length: a cent off would leave -20 dB and more.
    const whole = fitSine(out, hz, from, to);
    expect(whole.residualDb).toBeLessThan(-48);
    // Long enough pieces hold whole periods of all three.
    const piece = Math.round((Math.round(0.1 * hz) / hz) * RATE);
    const levels = [];
    for (let at = from; at + piece < to; at += piece) levels.push(fitSine(out, hz, at, at + piece).amplitude);
    expect(Math.max(...levels) / Math.min(...levels) - 1).toBeLessThan(0.003);
  });

  it('is transposed by the semitone table, 2^(n/12), at the same length', () => {
    for (const semitones of [-12, -5, 0.5, 7, 12]) {
      const out = retime(monoOf(sine(440, 2)), [], { ...WAYS, semitones }).channels[0]!;
      expect(out.length).toBe(2 * RATE);
      const { residualDb } = fitSine(out, 440 * 2 ** (semitones / 12), 0.3 * RATE, 1.6 * RATE);
      expect(residualDb).toBeLessThan(-46);
    }
  });
});

describe('attacks', () => {
  const starts = [0, 11_025, 22_050, 30_000, 44_100, 60_000];
  const loop = burstLoop(88_200, starts, RATE, 1);

  it.each([
    ['slices', 0.6, 'leave', -Infinity],
    // What rings below 200 Hz comes along with its own hit, not with the next one.
    ['slices', 1.7, 'ring', -30],
    ['stretch', 1.7, 'ring', -30],
  ] as const)('by %s at %f stand exactly in their new places, as they were', (mode, ratio, tail, mostDb) => {
    const out = retime(loop, attacksAt(...starts), { ...WAYS, mode, ratio, tail }).channels[0]!;
    for (const start of starts) {
      const frames = Math.round(0.02 * RATE);
      const attack = out.subarray(Math.round(start * ratio)).subarray(0, frames);
      const original = loop.channels[0]!.subarray(start, start + frames);
      const difference = energyOf(attack, original, 0, frames) / energy(original, 0, frames);
      expect(10 * Math.log10(difference)).toBeLessThanOrEqual(mostDb);
    }
  });

  it('that come sooner stand on what still rings', () => {
    const ratio = 0.4;
    const places = starts.map((start) => Math.round(start * ratio));
    // The same bursts begun at the new places: nothing is cut off in it.
    const ideal = burstLoop(Math.round(88_200 * ratio), places, RATE, 1).channels[0]!;
    const missing = (tail: Retiming['tail'], mode: Retiming['mode']) => {
      const out = retime(loop, attacksAt(...starts), { ...WAYS, mode, ratio, tail }).channels[0]!;
      const after = places.slice(1).map((at) => energyOf(out, ideal, at, at + 1_500));
      return 10 * Math.log10(after.reduce((sum, value) => sum + value) / places.length);
    };
    expect(missing('ring', 'slices')).toBeLessThan(missing('leave', 'slices') - 9);
    expect(missing('ring', 'stretch')).toBeLessThan(missing('leave', 'slices') - 6);
  });

  it.each([
    ['held', 21_600, 0.55],
    ['short', 11_000, 0.4],
  ])('that come sooner end a %s note', (_kind, held, ratio) => {
    const note = sine(330, 2).map((value, i) => 0.5 * value * (i % 22_050 < held ? 1 : 0));
    const attacks = attacksAt(0, 22_050, 44_100, 66_150);
    const [rung, cut] = (['ring', 'leave'] as const).map(
      (tail) => retime(monoOf(note), attacks, { ...WAYS, mode: 'slices', ratio, tail }).channels[0]!,
    );
    // Bands in which there is all but nothing may do as they like.
    const difference = energyOf(rung!, cut!, 0, cut!.length) / energy(cut!, 0, cut!.length);
    expect(10 * Math.log10(difference + 1e-20)).toBeLessThan(-40);
  });

  it('cast nothing before themselves', () => {
    for (const mode of ['slices', 'stretch'] as const) {
      const quiet = burstLoop(60_000, [20_000, 40_000], RATE, 1);
      const out = retime(quiet, attacksAt(20_000, 40_000), { ...WAYS, mode, ratio: 1.5 }).channels[0]!;
      expect(energy(out, 0, 30_000)).toBeLessThan(1e-20);
      // 0.45 s after the first burst, which dies away by 40 nepers a second, nothing of the second may be heard yet.
      const before = energy(out, 60_000 - 1_500, 60_000);
      expect(10 * Math.log10(before / energy(out, 60_000, 61_500) + 1e-20)).toBeLessThan(-60);
    }
  });

  it('leave an impulse an impulse', () => {
    const signal = new Float32Array(40_000);
    for (const at of [5_000, 15_000, 25_000]) signal[at] = 1;
    const out = retime(monoOf(signal), attacksAt(5_000, 15_000, 25_000), { ...WAYS, ratio: 1.31 }).channels[0]!;
    for (const at of [5_000, 15_000, 25_000]) expect(out[Math.round(at * 1.31)]).toBe(1);
    expect(energy(out, 0, out.length)).toBeCloseTo(3, 2);
  });

  it('stand in their new places when they are cut before they begin, each by its own distance', () => {
    const signal = new Float32Array(60_000);
    const attacks = [5_000, 25_000, 45_000];
    for (const at of attacks) signal[at] = 1;
    const cut = attacks.map((attackFrame, i) => ({ frame: attackFrame - 20 * (i + 1), attackFrame }));
    for (const [ratio, semitones] of [
      [0.7, 0],
      [1.9, 0],
      [1.5, 12],
    ] as const) {
      const out = retime(monoOf(signal), cut, { ...WAYS, ratio, semitones }).channels[0]!;
      for (const at of attacks) {
        const around = out.subarray(Math.round(at * ratio) - 200, Math.round(at * ratio) + 200);
        const loudest = around.reduce((best, value, i) => (Math.abs(value) > Math.abs(around[best]!) ? i : best), 0);
        expect(Math.abs(loudest - 200)).toBeLessThanOrEqual(1);
      }
    }
  });
});

describe('what lies between', () => {
  it.each([0.5, 0.7, 1.9])('goes through the whole of a long sound, evenly, at a ratio of %f', (ratio) => {
    // Four seconds that glide from 200 to 400 Hz: 200 t + 25 t^2 periods.
    const glide = Float32Array.from({ length: 4 * RATE }, (_, i) => {
      const t = i / RATE;
      return 0.5 * Math.sin(2 * Math.PI * (200 * t + 25 * t * t));
    });
    for (const material of MATERIALS) {
      const out = retime(monoOf(glide), [], { ...WAYS, ratio, material }).channels[0]!;
      const at = (share: number) => Math.round(share * out.length);
      const heardHz = (share: number) => pitchHz(out, at(share - 0.02), at(share + 0.02));
      expect(heardHz(0.97)).toBeGreaterThan(380);
      // At the middle no further than 0.6 s of copied sound has put it off.
      expect(Math.abs(heardHz(0.5) - 300)).toBeLessThan(50 * 0.6);
    }
  });

  it('dies away in its own time when its tail rings on', () => {
    // A tone that loses 20 dB a second, cut off after half a second.
    const tone = Float32Array.from(sine(330, 0.5), (value, i) => value * 10 ** -(i / RATE));
    const out = retime(monoOf(tone), attacksAt(0), { ...WAYS, mode: 'slices', ratio: 2 }).channels[0]!;
    for (const second of [0.2, 0.4, 0.6, 0.8]) {
      const at = Math.round(second * RATE);
      const level = Math.sqrt(energy(out, at, at + 4410) / 4410) * Math.SQRT2;
      // From where it is made up (0.45 s) it may die a quarter faster than measured: see HASTE.
      const slope = Math.max(0, second + 0.05 - 0.45) * 20;
      const late = 20 * Math.log10(level) + 20 * (second + 0.05);
      expect(late).toBeLessThan(0.3);
      expect(late).toBeGreaterThan(-0.3 - slope / 4);
    }
  });

  it('is left out, or fades, when asked', () => {
    const steady = monoOf(sine(330, 0.5));
    const left = retime(steady, attacksAt(0), { ...WAYS, mode: 'slices', ratio: 2, tail: 'leave' }).channels[0]!;
    expect(energy(left, 0.5 * RATE, RATE)).toBe(0);
    expect(energy(left, 0.4 * RATE, 0.49 * RATE)).toBeGreaterThan(0.9 * 0.5 * 0.09 * RATE);
    const faded = retime(steady, attacksAt(0), { ...WAYS, mode: 'slices', ratio: 2, tail: 'fade' }).channels[0]!;
    expect(energy(faded, 0.5 * RATE, RATE)).toBe(0);
    expect(energy(faded, 0.4 * RATE, 0.49 * RATE)).toBeLessThan(0.3 * 0.5 * 0.09 * RATE);
  });

  it('keeps the width of left and right', () => {
    const left = sine(300, 2);
    const right = Float32Array.from(left, (_, i) => Math.sin((2 * Math.PI * 300 * i) / RATE + 1.1));
    const { channels } = retime({ sampleRate: RATE, channels: [left, right] }, [], { ...WAYS, ratio: 1.6 });
    const side = (a: Float32Array, b: Float32Array, from: number, to: number) => {
      let sum = 0;
      for (let i = from; i < to; i++) sum += (a[i]! - b[i]!) ** 2;
      return 10 * Math.log10(sum / (to - from));
    };
    const wanted = side(left, right, 10_000, 80_000);
    expect(side(channels[0]!, channels[1]!, 20_000, 120_000)).toBeCloseTo(wanted, 1);
  });

  it('is the source itself where nothing changes, in every mode', () => {
    const loop = burstLoop(50_000, [0, 20_000], RATE, 2);
    for (const mode of ['slices', 'stretch', 'speed'] as const) {
      const out = retime(loop, attacksAt(0, 20_000), { ...WAYS, mode });
      expect(out.channels.map((channel, side) => firstDifference(channel, loop.channels[side]!))).toEqual([-1, -1]);
    }
  });
});

describe('by speed', () => {
  it.each([0.7, 1.25, 1.9])('at %f is the exact resampled signal to -50 dB and better', (ratio) => {
    const hz = 900;
    const out = retime(monoOf(sine(hz, 2)), [], { ...WAYS, mode: 'speed', ratio }).channels[0]!;
    let wrong = 0;
    for (let i = 5_000; i < out.length - 5_000; i++)
      wrong += (out[i]! - Math.sin((2 * Math.PI * hz * i) / ratio / RATE)) ** 2;
    expect(10 * Math.log10(wrong / (out.length - 10_000) / 0.5)).toBeLessThan(-70);
  });

  it.each([1_000, 12_000, 19_500, 20_300])('keeps %i Hz as it is, the top octave too', (hz) => {
    const ratio = 1.25;
    const out = retime(monoOf(sine(hz, 1)), [], { ...WAYS, mode: 'speed', ratio }).channels[0]!;
    const { amplitude, residualDb } = fitSine(out, hz / ratio, 8_000, 48_000);
    expect(amplitude).toBeCloseTo(1, 2);
    expect(residualDb).toBeLessThan(-60);
  });

  it('lets nothing fold back: what would lie above half the rate is gone', () => {
    const out = resampleFine(sine(15_000, 1), 2, RATE / 2);
    expect(Math.max(...out.subarray(2_000, 20_000).map(Math.abs))).toBeLessThan(0.001);
  });
});

describe('what is asked wrongly or is hardly there', () => {
  it('is refused with the range', () => {
    expect(() => retime(monoOf(sine(100, 0.1)), [], { ...WAYS, ratio: 4.5 })).toThrow('from 1/4 to 4');
    expect(() => retime(monoOf(sine(100, 0.1)), [], { ...WAYS, ratio: Number.NaN })).toThrow(RangeError);
    expect(() => retime(monoOf(sine(100, 0.1)), [], { ...WAYS, semitones: 60 })).toThrow('-48 to 48');
    expect(() => new PhaseVocoder(1000, 12)).toThrow('a power of two from 16 to 16384');
    expect(() => new PhaseVocoder(1024, 40)).toThrow('1 to 16');
  });

  it('is refused where two vocoders would write into each other', () => {
    const [one, other] = [new PhaseVocoder(256, 4), new PhaseVocoder(512, 4)];
    const [source, out] = [sine(440, 0.1), new Float32Array(4_000)];
    const frame = (vocoder: PhaseVocoder, at: number) =>
      vocoder.add([source, source], at, [out, out], at, new Float64Array(4).fill(1));
    frame(one, 300);
    frame(one, 364);
    frame(other, 300);
    expect(() => frame(one, 428)).toThrow('restart');
    one.restart();
    frame(one, 428);
  });

  it.each([
    ['silence', new Float32Array(30_000)],
    ['one sample', Float32Array.of(0.5)],
    ['5 ms', sine(440, 0.005)],
  ])('%s comes out in every mode and material, as long as it should be', (_name, samples) => {
    for (const mode of ['slices', 'stretch', 'speed'] as const) {
      for (const material of MATERIALS) {
        const out = retime(monoOf(samples), attacksAt(0, 10), { ...WAYS, mode, material, ratio: 1.7 }).channels[0]!;
        expect(out.length).toBe(Math.round(samples.length * 1.7));
        expect(out.every(Number.isFinite)).toBe(true);
      }
    }
  });
});
