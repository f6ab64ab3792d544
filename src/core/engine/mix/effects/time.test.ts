/** What repeats, rings and resonates: in time, in tune, as long as it says. */
import FFT from 'fft.js';
import { describe, expect, it } from 'vitest';
import { click, dB, RATE, rms, sine, through } from '../../../../../tests/support/effects.ts';
import { firstDifference } from '../../../../../tests/support/signals.ts';
import { partialsDb } from '../../../../../tests/support/spectrum.ts';
import { bandPass, filterInto } from '../../../dsp/biquad.ts';
import { seededRandom } from '../../../units/random.ts';
import { Hits } from '../hits.ts';

/** The strongest frequency near another one, between the places of the spectrum. */
function strongestHz(samples: Float32Array, from: number, size: number, nearHz: number): number {
  const fft = new FFT(size);
  const out = fft.createComplexArray() as number[];
  const window = (i: number) => Math.exp(-0.5 * ((i - size / 2) / (size / 8)) ** 2);
  fft.realTransform(
    out,
    Array.from({ length: size }, (_, i) => (samples[from + i] ?? 0) * window(i)),
  );
  const level = (bin: number) => Math.log(Math.hypot(out[2 * bin]!, out[2 * bin + 1]!));
  const near = (nearHz * size) / RATE;
  let best = Math.round(near);
  for (let bin = Math.floor(near * 0.97); bin <= Math.ceil(near * 1.03); bin++)
    if (level(bin) > level(best)) best = bin;
  // Of a Gaussian window the logarithm is a parabola: its top lies where that of three values does.
  const [a, b, c] = [level(best - 1), level(best), level(best + 1)];
  return ((best + (0.5 * (a - c)) / (a - 2 * b + c)) * RATE) / size;
}

describe('the tuned comb', () => {
  it.each([21, 33, 45, 57, 69, 81, 93, 105, 116])('is in tune at note %i within a cent, bright or dull', (note) => {
    const hz = 440 * 2 ** ((note - 69) / 12);
    // High up what is dull has died before it can be measured.
    const dull = note < 100 ? 0.6 : 1;
    for (const [sign, brightness] of [
      ['up', 1],
      ['up', dull],
      ['down', dull],
    ] as const) {
      const { left } = through('comb', { note, decaySeconds: 20, brightness, sign }, click(200_000, 1));
      const heard = note < 100 ? strongestHz(left, 8000, 131_072, hz) : strongestHz(left, 64, 4096, hz);
      expect(Math.abs(1200 * Math.log2(heard / hz))).toBeLessThan(1);
    }
  });

  it('rings for as long as it says', () => {
    const { left } = through('comb', { note: 57, decaySeconds: 1, brightness: 1 }, click(60_000, 1));
    const level = (from: number) => partialsDb(left, RATE, from, 8192)(220);
    expect(level(2000 + RATE / 2) - level(2000)).toBeCloseTo(-30, 0);
  });

  it('rings as a chord, and goes by the root of the song when told', () => {
    const chord = through('comb', { note: 57, second: 4, third: 7, decaySeconds: 5 }, click(90_000, 1)).left;
    for (const by of [0, 4, 7]) {
      const hz = 220 * 2 ** (by / 12);
      expect(Math.abs(1200 * Math.log2(strongestHz(chord, 4000, 65_536, hz) / hz))).toBeLessThan(2);
    }
    const hits = new Hits();
    hits.add(0, 0, 45);
    const byKey = through('comb', { note: 57, tunedTo: 'keys', decaySeconds: 5 }, click(90_000, 1), {
      change: (slot) => (slot.hits = hits),
    });
    const set = through('comb', { note: 45, decaySeconds: 5 }, click(90_000, 1));
    expect(firstDifference(byKey.left, set.left)).toBe(-1);
    const { left } = through('comb', { note: 57, tunedTo: 'root', decaySeconds: 5 }, click(90_000, 1), {
      moment: { rootNote: 2 },
    });
    const hz = 440 * 2 ** ((50 - 69) / 12);
    expect(Math.abs(1200 * Math.log2(strongestHz(left, 4000, 65_536, hz) / hz))).toBeLessThan(2);
  });
});

describe('the echo', () => {
  const peaks = (samples: Float32Array, above: number) =>
    [...samples].flatMap((value, at) => (Math.abs(value) > above ? [at] : []));

  it('comes in note values, to the frame, at any tempo', () => {
    for (const tempoBpm of [60, 120, 174]) {
      const frames = Math.round((0.75 * 60 * RATE) / tempoBpm);
      const { left } = through('echo', { highCutHz: 20_000, lowCutHz: 20, feedback: 0.5 }, click(100_000, 1, 100), {
        moment: { tempoBpm },
      });
      const at = peaks(left, 0.2);
      expect(Math.abs(at[0]! - 100 - frames)).toBeLessThanOrEqual(1);
      expect(at.some((one) => Math.abs(one - 100 - 2 * frames) <= 1)).toBe(true);
    }
  });

  it('goes from side to side', () => {
    const out = through(
      'echo',
      { timeIn: 'ms', timeMs: 100, across: 1, highCutHz: 20_000, lowCutHz: 20 },
      click(20_000),
    );
    const energy = (samples: Float32Array, at: number) => rms(samples, at - 20, at + 20);
    expect(energy(out.left, 4410)).toBeGreaterThan(10 * energy(out.right, 4410));
    expect(energy(out.right, 8820)).toBeGreaterThan(10 * energy(out.left, 8820));
  });

  it('holds what is in its loop for as long as it is told to, and lets nothing in', () => {
    const input = sine(330, 200_000, 0.5).map((value, i) => (i < 30_000 || i > 150_000 ? value : 0));
    const { left } = through('echo', { timeIn: 'ms', timeMs: 250, feedback: 0.6 }, input, {
      change: (slot, frame) => frame === 29_984 && slot.take({ ...held, values: heldValues(slot) }),
    });
    expect(dB(rms(left, 120_000, 131_000) / rms(left, 40_000, 51_000))).toBeCloseTo(0, 0);
    expect(dB(rms(left, 180_000, 191_000) / rms(left, 120_000, 131_000))).toBeCloseTo(0, 0);
  });
  const held = { id: 'echo', kind: 'echo' as const, bypassed: false, sideChannelId: null };
  const heldValues = (slot: { owner: { base: Float64Array } }) => {
    const values = slot.owner.base.slice();
    values[values.length - 1] = 1;
    return values;
  };

  it('is higher each time round when told so', () => {
    const { left } = through(
      'echo',
      { timeIn: 'ms', timeMs: 500, feedback: 0.8, pitchCents: 1200, highCutHz: 20_000, lowCutHz: 20 },
      sine(300, 120_000).map((value, i) => (i < 20_000 ? value : 0)),
    );
    expect(strongestHz(left, 24_000, 16_384, 600) / 600).toBeCloseTo(1, 1);
    expect(strongestHz(left, 46_000, 16_384, 1200) / 1200).toBeCloseTo(1, 1);
  });

  it('stays within bounds at its most', () => {
    const noise = Float32Array.from({ length: 200_000 }, (_, i) => Math.sin(i * i * 0.11));
    const { left } = through('echo', { timeIn: 'ms', timeMs: 1, feedback: 1, driveDb: 24, across: 0.5 }, noise);
    expect(left.every((value) => Math.abs(value) < 8)).toBe(true);
  });
});

/**
 * Backward integration (M. Schroeder, JASA 37, 1965) and the slope from -5 to -35 dB, times two, in the octave around 1 kHz
 * (ISO 3382-1).
 */
function decaySeconds(response: Float32Array): number {
  const samples = new Float32Array(response.length);
  filterInto(bandPass(1000, Math.SQRT2, RATE), response, samples);
  const left = new Float64Array(samples.length);
  for (let i = samples.length - 2; i >= 0; i--) left[i] = left[i + 1]! + samples[i]! ** 2;
  const at = (level: number) => left.findIndex((value) => 10 * Math.log10(value / left[0]!) < level);
  return ((at(-35) - at(-5)) / RATE) * 2;
}

/** Share of samples beyond one deviation in a window, over that of noise (J. Abel and P. Huang, AES 121, 2006). */
function echoDensity(samples: Float32Array, from: number, count: number): number {
  const deviation = rms(samples, from, from + count);
  let beyond = 0;
  for (let i = from; i < from + count; i++) if (Math.abs(samples[i]!) > deviation) beyond++;
  return beyond / count / 0.3173;
}

describe('the room', () => {
  it.each([
    [0.3, 0.2],
    [1, 0.5],
    [2.5, 0.8],
    [6, 1],
  ])('of %f s dies in that time, within 5 percent', (decay, size) => {
    const frames = Math.ceil(decay * 1.4 * RATE);
    const values = { decaySeconds: decay, size, highCutHz: 20_000, lowCutHz: 20, early: 0, beforeMs: 0.1 };
    const { left } = through('room', values, click(frames));
    expect(Math.abs(decaySeconds(left) / decay - 1)).toBeLessThan(0.05);
  });

  it('is as dense as noise a tenth of a second on, whatever its size', () => {
    for (const size of [0.1, 0.5, 1]) {
      const { left } = through('room', { decaySeconds: 4, size, highCutHz: 20_000 }, click(60_000));
      for (let from = Math.round(0.1 * RATE); from < 50_000; from += 4000) {
        expect(echoDensity(left, from, 882)).toBeGreaterThan(0.75);
      }
    }
  });

  it('is as loud at every size, within 1 dB', () => {
    const random = seededRandom(3);
    const noise = Float32Array.from({ length: 160_000 }, () => random() - 0.5);
    const levels = [0, 0.25, 0.5, 0.75, 1].map((size) =>
      dB(rms(through('room', { size, early: 0, decaySeconds: 1.5, highCutHz: 20_000 }, noise).left, 100_000)),
    );
    expect(Math.max(...levels) - Math.min(...levels)).toBeLessThan(1);
  });

  it('hardly ends when told so, and stays within bounds', () => {
    const { left } = through('room', { decaySeconds: 120, highCutHz: 20_000 }, click(220_000));
    // 180,000 frames are 4.1 s: 2 dB of 60 in 120 s, and what treble loses between samples.
    const band = new Float32Array(left.length);
    filterInto(bandPass(700, 1, RATE), left, band);
    expect(dB(rms(band, 200_000, 220_000) / rms(band, 20_000, 40_000))).toBeGreaterThan(-3.5);
    expect(left.every((value) => Math.abs(value) < 1)).toBe(true);
  });

  it('is cut off so long after the sound has stopped', () => {
    const burst = sine(400, 60_000).map((value, i) => (i < 10_000 ? value : 0));
    const { left } = through('room', { runs: 'gated', decaySeconds: 5, cutMs: 200, early: 0 }, burst);
    expect(dB(rms(left, 14_000, 17_000))).toBeGreaterThan(-30);
    expect(dB(rms(left, 24_000, 27_000))).toBeLessThan(-60);
  });

  it('backwards swells and stops', () => {
    const { left } = through('room', { runs: 'backwards', decaySeconds: 1, early: 0 }, click(60_000));
    expect(dB(rms(left, 36_000, 42_000) / rms(left, 6000, 12_000))).toBeGreaterThan(15);
    expect(rms(left, 48_000, 60_000)).toBeLessThan(1e-4);
  });
});

describe('catch', () => {
  const catchAt = (frame: number, caught: number) => ({
    change: (slot: { owner: { set(slot: number, value: number): void } }, at: number) => {
      if (at === frame) slot.owner.set(1, caught);
    },
  });

  it('repeats the last note value, to the frame, as long as it is on', () => {
    const ramp = Float32Array.from({ length: 120_000 }, (_, i) => (i / 120_000) * 0.8);
    const { left } = through('catch', { length: '1/16' }, ramp, catchAt(40_000, 1));
    const frames = Math.round((0.25 * 60 * RATE) / 120);
    // Once more what came before it was caught, again and again.
    for (let round = 0; round < 8; round++) {
      const at = 40_000 + round * frames + 2000;
      expect(left[at]).toBeCloseTo(ramp[40_000 - frames + 2000]!, 3);
    }
    expect(through('catch', { length: '1/16' }, ramp).left.every((value, i) => value === ramp[i])).toBe(true);
  });

  it('runs backwards, slower and falling', () => {
    const ramp = Float32Array.from({ length: 90_000 }, (_, i) => (i / 90_000) * 0.8);
    const back = through('catch', { length: '1/8', runs: 'backwards' }, ramp, catchAt(40_000, 1)).left;
    expect(back[44_000]!).toBeLessThan(back[42_000]!);
    const falling = through('catch', { length: '1/16', fallDb: 6 }, sine(441, 90_000), catchAt(40_000, 1)).left;
    expect(dB(rms(falling, 57_000, 60_000) / rms(falling, 41_000, 44_000))).toBeCloseTo(-18, 0);
    const slow = through('catch', { length: '1/8', speed: 0.5 }, sine(1000, 90_000), catchAt(40_000, 1)).left;
    expect(strongestHz(slow, 41_000, 8192, 500) / 500).toBeCloseTo(1, 1);
  });
});

describe('chorus, flanger and phaser', () => {
  it.each(['chorus', 'flanger', 'phaser'])('%s goes round with the song, the same at every play', (way) => {
    const noise = Float32Array.from({ length: 30_000 }, (_, i) => Math.sin(i * i * 0.19) * 0.5);
    const play = () => through('sway', { way, rateIn: 'notes', depth: 0.8 }, noise, { moment: { positionTicks: 480 } });
    const again = play().left;
    expect(play().left.every((value, i) => value === again[i])).toBe(true);
  });

  it('the flanger at its most stays within bounds', () => {
    const noise = Float32Array.from({ length: 100_000 }, (_, i) => Math.sin(i * i * 0.19));
    for (const feedback of [0.95, -0.95]) {
      const { left } = through('sway', { way: 'flanger', feedback, depth: 1, rateHz: 5 }, noise);
      expect(left.every((value) => Math.abs(value) < 25)).toBe(true);
    }
  });
});
