import { describe, expect, it } from 'vitest';
import { strike } from '../../../tests/support/made-drums.ts';
import { bandOf, BANDS, bandsOfBins, bandStartHz } from './bands.ts';
import { foundBorder, HANDLE_PLACES, NO_PULLS, pullAt, pullBorder } from './border.ts';
import { SHAPED_ROLES, shapePowers } from './drum-shapes.ts';
import { fitPowers } from './fit.ts';
import { likenessOf, takeSliceApart, type LoopSlice, type SliceWish } from './in-loop.ts';
import { asNewSounds, withSlicesChanged } from './results.ts';
import { Spectrograph } from './spectra.ts';
import { seededRandom } from '../units/random.ts';

const RATE = 44_100;
const random = seededRandom(4);
const noise = (frames: number) => Float32Array.from({ length: frames }, () => random() - 0.5);

describe('spectra over time', () => {
  it.each([RATE, 96_000])('at %i Hz a sound comes back as it was, from its first sample to its last', (rate) => {
    const spectrograph = new Spectrograph(rate);
    const sound = noise(5_003);
    const back = spectrograph.sound(spectrograph.analyse(sound), sound.length);
    expect(Math.max(...back.map((value, i) => Math.abs(value - sound[i]!)))).toBeLessThan(1e-6);
  });

  it('windows are about 12 ms long, at any rate', () => {
    for (const rate of [8_000, RATE, 192_000]) {
      const { size } = new Spectrograph(rate);
      expect(size / rate).toBeGreaterThan(0.008);
      expect(size / rate).toBeLessThan(0.017);
    }
  });

  it('windows at the ends lie in the sound by half', () => {
    const spectrograph = new Spectrograph(RATE);
    const row = Array.from({ length: 9 }, (_, i) => i).find((i) => spectrograph.frameOf(i) === 0)!;
    expect(spectrograph.coverage(row, 9_000)).toBeCloseTo(0.5, 2);
    expect(spectrograph.coverage(row + 4, 9_000)).toBe(1);
  });
});

describe('bands of hearing', () => {
  it('1 kHz has the number 15.6 on the scale of Glasberg and Moore (1990), of 43 up to 22 kHz', () => {
    expect(bandOf(1000)).toBe(Math.floor((15.62 / 43) * BANDS));
    expect(bandOf(20_000)).toBe(BANDS - 1);
    for (let band = 0; band < BANDS; band++) expect(bandOf(bandStartHz(band) + 0.01)).toBe(band);
  });
});

describe('how much of a mix each is', () => {
  it('two that are known up to their levels are found with those', () => {
    const grid = { rows: 30, bins: 129 };
    const bands = bandsOfBins(grid.bins, RATE);
    const low = Float32Array.from({ length: 30 * 129 }, (_, i) => Math.exp(-(i % 129) / 10 - Math.floor(i / 129) / 9));
    const high = Float32Array.from({ length: 30 * 129 }, (_, i) => Math.exp((i % 129) / 40 - Math.floor(i / 129) / 3));
    const mix = low.map((power, i) => 3 * power + 0.1 * high[i]!);
    const [one, other] = fitPowers(mix, [low, high], null, grid, bands);
    for (const i of [3, 60, 129 * 5 + 100]) {
      expect(one![i]! / (3 * low[i]!)).toBeCloseTo(1, 0);
      expect(Math.abs(other![i]! / (0.1 * high[i]!) - 1)).toBeLessThan(0.15);
    }
  });
});

describe('what is known of the roles', () => {
  it('a kick is low, a hat high (common practice), and all fall', () => {
    const bands = bandsOfBins(257, RATE);
    const middleOf = (powers: Float32Array, row: number) => {
      const some = powers.subarray(row * 257, (row + 1) * 257);
      return some.reduce((sum, power, bin) => sum + power * bin, 0) / some.reduce((sum, power) => sum + power, 0);
    };
    const shapes = SHAPED_ROLES.map((role) => shapePowers(role, [0.005, 0.3, 2], 257, bands));
    const [kick, hat] = [shapes[0]!, shapes[SHAPED_ROLES.indexOf('closed hat')]!];
    expect(middleOf(kick, 0)).toBeLessThan(20);
    expect(middleOf(hat, 0)).toBeGreaterThan(70);
    for (const powers of shapes) {
      const total = (row: number) => powers.subarray(row * 257, (row + 1) * 257).reduce((sum, power) => sum + power, 0);
      expect(total(1)).toBeLessThan(total(0));
      expect(total(2)).toBeLessThanOrEqual(total(1));
    }
  });
});

describe('the border', () => {
  const [rows, bins] = [6, 20];
  const powers = new Float32Array(rows * bins).fill(1);
  const upper = Float32Array.from({ length: rows * bins }, (_, i) => (i % bins >= 8 ? 1 : 0));
  it('lies where one layer ends and the other begins', () => {
    expect([...foundBorder(powers, upper, rows, bins)]).toEqual([8, 8, 8, 8, 8, 8]);
  });
  it('stays where it was where nothing sounds', () => {
    const ended = powers.map((power, i) => (i >= 3 * bins ? 0 : power));
    expect([...foundBorder(ended, upper, rows, bins)]).toEqual([8, 8, 8, 8, 8, 8]);
  });
  it('pulled an octave down it gives what is between to the upper layer, and the other way round', () => {
    const border = foundBorder(powers, upper, rows, bins);
    const at = (octaves: number) => {
      const pulled = pullBorder(
        upper,
        border,
        NO_PULLS.map(() => octaves),
        bins,
        () => 0.3,
      );
      return pulled.subarray(0, bins).reduce((sum, share) => sum + share, 0);
    };
    expect([at(-1), at(0), at(1)]).toEqual([16, 12, 4]);
  });
  it('goes on lines between its handles', () => {
    const pulls = [1, 0, 2, 0];
    expect(pullAt(pulls, 0)).toBe(1);
    expect(pullAt(pulls, (HANDLE_PLACES[1] + HANDLE_PLACES[2]) / 2)).toBeCloseTo(1, 9);
    expect(pullAt(pulls, 1)).toBe(0);
  });
});

/** kick, hat, both together, hat, an open hat that rings into a snare, the same open hat ringing on. */
function loop() {
  const step = 8_000;
  const kick = (stroke: number) => strike({ role: 'kick', seed: 3 }, stroke).slice(0, step);
  const hat = (stroke: number) =>
    strike({ role: 'closed hat', seed: 7 }, stroke)
      .slice(0, step)
      .map((value) => 0.4 * value);
  const samples = new Float32Array(7 * step);
  const at = (place: number, sound: Float32Array) =>
    sound.forEach((value, i) => (samples[place * step + i] = (samples[place * step + i] ?? 0) + value));
  at(0, kick(1));
  at(1, hat(1));
  at(2, kick(2));
  at(2, hat(2));
  at(3, hat(3));
  const ring = Float32Array.from({ length: 2 * step }, (_, i) => 0.3 * Math.sin(i * 1.1) * Math.exp(-i / 9_000));
  at(4, ring.slice(0, 2 * step));
  at(5, strike({ role: 'snare', seed: 2 }, 1).slice(0, step));
  const roles = ['kick', 'closed hat', 'kick', 'closed hat', 'open hat', 'snare'] as const;
  const slices = roles.map((role, i): LoopSlice => ({
    startFrame: i * step,
    endFrame: (i + 1) * step,
    role,
    isSure: true,
  }));
  return { audio: { sampleRate: RATE, channels: [samples] }, slices, ring, step };
}

const WISH: SliceWish = {
  place: 2,
  layers: [
    { role: 'kick', guide: { kind: 'found' } },
    { role: 'closed hat', guide: { kind: 'found' } },
  ],
  ring: null,
  softEdgePercent: 30,
  attacks: 'both',
  pulls: NO_PULLS,
};

describe('with the loop’s own hits as guides', () => {
  it('lone hits are found by how they sound', () => {
    const { audio, slices } = loop();
    const apart = takeSliceApart(audio, slices, WISH);
    expect(apart.used[0]).toBe(0);
    expect([1, 3]).toContain(apart.used[1]);
    expect(apart.guides[1]!.map(({ place }) => place).toSorted()).toEqual([1, 3]);
    expect(apart.guides[1]![0]!.likeness).toBeGreaterThan(0.85);
  });

  it('what is not sure is no guide; what was chosen is; by role there is none', () => {
    const { audio, slices } = loop();
    const unsure = slices.map((slice, i) => ({ ...slice, isSure: i !== 0 }));
    expect(takeSliceApart(audio, unsure, WISH).used[0]).toBeNull();
    const chosen = {
      ...WISH,
      layers: [WISH.layers[0]!, { role: 'closed hat' as const, guide: { kind: 'slice' as const, place: 3 } }],
    };
    expect(takeSliceApart(audio, slices, chosen).used).toEqual([0, 3]);
    const byRole = WISH.layers.map(({ role }) => ({ role, guide: { kind: 'role' as const } }));
    expect(takeSliceApart(audio, slices, { ...WISH, layers: byRole }).used).toEqual([null, null]);
  });

  it('the ring of the hit before is learned from where it rings alone', () => {
    const { audio, slices, ring, step } = loop();
    const alone = new Float32Array(9 * step);
    alone.set(audio.channels[0]!);
    alone.set(ring, 7 * step);
    const more = [...slices, { startFrame: 7 * step, endFrame: 9 * step, role: 'open hat' as const, isSure: true }];
    const wish: SliceWish = {
      ...WISH,
      place: 5,
      layers: [{ role: 'snare', guide: { kind: 'found' } }],
      ring: { percent: 100, fromSeconds: 0, untilSeconds: 8, leavesLow: false },
    };
    expect(takeSliceApart(audio, slices, wish).ringFrom).toBeNull();
    expect(takeSliceApart({ ...audio, channels: [alone] }, more, wish).ringFrom).toBe(6);
    // The first slice has no hit before it.
    expect(takeSliceApart(audio, slices, { ...wish, place: 0 }).layers).toHaveLength(1);
    expect(() => takeSliceApart(audio, slices, { ...wish, place: 9 })).toThrow(RangeError);
  });

  it('a sound is like itself, and another one less', () => {
    const [a, b] = [strike({ role: 'kick', seed: 1 }, 1), strike({ role: 'closed hat', seed: 1 }, 1)];
    expect(likenessOf([a], [a], RATE)).toBeCloseTo(1, 6);
    expect(likenessOf([a], [b], RATE)).toBeLessThan(0.5);
    expect(likenessOf([a], [new Float32Array(0)], RATE)).toBe(0);
  });
});

describe('what becomes of them', () => {
  it('with all its layers a slice in its place is what it was; without one that layer is gone, but for fades', () => {
    const { audio, slices, step } = loop();
    const apart = takeSliceApart(audio, slices, WISH);
    const same = withSlicesChanged(audio, slices, [{ place: 2, apart, gains: [1, 1] }]);
    expect(same.channels[0]).toEqual(audio.channels[0]);
    const without = withSlicesChanged(audio, slices, [{ place: 2, apart, gains: [1, 0] }]).channels[0]!;
    expect(without.subarray(0, 2 * step)).toEqual(audio.channels[0]!.subarray(0, 2 * step));
    expect(without.subarray(3 * step)).toEqual(audio.channels[0]!.subarray(3 * step));
    for (const i of [100, 2_000, 7_000])
      expect(without[2 * step + i]!).toBeCloseTo(audio.channels[0]![2 * step + i]! - apart.layers[1]![0]![i]!, 5);
  });

  it('as new sounds layers lie one after another, those that are wanted', () => {
    const { audio, slices, step } = loop();
    const apart = takeSliceApart(audio, slices, WISH);
    const { audio: made, sounds } = asNewSounds(audio, [
      { place: 2, apart, gains: [1, 0.5] },
      { place: 3, apart, gains: [0, 1] },
    ]);
    expect(sounds.map(({ place, layer }) => [place, layer])).toEqual([
      [2, 0],
      [2, 1],
      [3, 1],
    ]);
    expect(sounds.every(({ startFrame, endFrame }) => endFrame - startFrame === step)).toBe(true);
    const [, hat] = sounds;
    expect(made.channels[0]![hat!.startFrame + 500]).toBeCloseTo(0.5 * apart.layers[1]![0]![500]!, 6);
  });
});
