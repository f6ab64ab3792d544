/** A slice on another key that keeps its length: what happens inside stays where it was. */
import { describe, expect, it } from 'vitest';
import { MATERIALS } from '../params/choices.ts';
import { retimeSlice } from './retime.ts';

const RATE = 44_100;
const GLIDE = { fromHz: 300, octavesASecond: 1 };
/** What plays at one moment of the new sound is what played in the old one at most this long before or after. */
const HOP_SECONDS = { drums: 256 / RATE, notes: 1024 / RATE, mixes: 512 / RATE };

/** A tone that rises all the time: its pitch tells the place. */
function glide(seconds: number): Float32Array<ArrayBuffer> {
  let phase = 0;
  return Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => {
    phase += (2 * Math.PI * GLIDE.fromHz * 2 ** ((GLIDE.octavesASecond * i) / RATE)) / RATE;
    return 0.5 * Math.sin(phase) * Math.min(1, i / 100);
  });
}

/** Frequency around a frame, from the crossings of zero that rise. */
function hzAround(signal: Float32Array, frame: number, span = 2_000): number {
  const crossings: number[] = [];
  for (let i = frame - span / 2; i < frame + span / 2; i++) {
    const [before, after] = [signal[i - 1]!, signal[i]!];
    if (before < 0 && after >= 0) crossings.push(i - after / (after - before));
  }
  return ((crossings.length - 1) * RATE) / (crossings.at(-1)! - crossings[0]!);
}

const slice = (audio: Float32Array<ArrayBuffer>) => ({
  startFrame: 0,
  endFrame: audio.length,
  fill: 'stretch' as const,
});
const monoOf = (samples: Float32Array<ArrayBuffer>) => ({ sampleRate: RATE, channels: [samples] });

describe('a slice that keeps its time on another key', () => {
  it.each(MATERIALS.flatMap((material) => [-24, -12, -5, 3, 12, 24].map((semitones) => ({ material, semitones }))))(
    'as $material, $semitones semitones: a glide is everywhere where it was, within a hop of the analysis',
    ({ material, semitones }) => {
      const tone = glide(2);
      const out = retimeSlice(monoOf(tone), {
        ...slice(tone),
        material,
        length: tone.length,
        transposeCents: semitones * 100,
        keepsTime: true,
      }).channels[0]!;
      expect(out.length).toBe(tone.length);
      for (const seconds of [0.15, 0.25, 0.4, 0.8, 1.2, 1.6, 1.8]) {
        const hz = hzAround(out, Math.round(seconds * RATE)) / 2 ** (semitones / 12);
        const place = Math.log2(hz / GLIDE.fromHz) / GLIDE.octavesASecond;
        expect(Math.abs(place - seconds), `at ${seconds} s`).toBeLessThan(HOP_SECONDS[material]);
      }
    },
  );

  it('twice as long and lower, all lies at twice its time', () => {
    const tone = glide(1);
    const how = { ...slice(tone), material: 'notes', length: 2 * RATE, transposeCents: -700, keepsTime: true } as const;
    const out = retimeSlice(monoOf(tone), how).channels[0]!;
    for (const seconds of [0.4, 1, 1.6]) {
      const hz = hzAround(out, seconds * RATE) / 2 ** (-7 / 12);
      expect(Math.abs(Math.log2(hz / GLIDE.fromHz) - seconds / 2)).toBeLessThan(HOP_SECONDS.notes);
    }
  });

  it('what dies away dies away as fast as it did', () => {
    const decay = (i: number) => Math.exp((-8 * i) / RATE);
    const tone = Float32Array.from({ length: RATE }, (_, i) => decay(i) * Math.sin((2 * Math.PI * 500 * i) / RATE));
    const levelDb = (signal: Float32Array, from: number) =>
      10 * Math.log10(signal.subarray(from, from + 2_000).reduce((sum, x) => sum + x * x, 0) / 2_000);
    for (const semitones of [-24, -12, 12, 24]) {
      const how = { ...slice(tone), material: 'drums', length: RATE, transposeCents: semitones * 100 } as const;
      const out = retimeSlice(monoOf(tone), { ...how, keepsTime: true }).channels[0]!;
      for (const at of [6_000, 12_000, 20_000, 30_000]) {
        expect(Math.abs(levelDb(out, at) - levelDb(tone, at)), `${semitones}, ${at}`).toBeLessThan(1.5);
      }
    }
  });

  it('the attack is the one of the sound itself, at once and whole', () => {
    const click = Float32Array.from({ length: RATE / 2 }, (_, i) => Math.exp(-i / 60) * Math.cos(i / 4));
    for (const semitones of [-24, -7, 7, 24]) {
      const how = { ...slice(click), length: click.length, transposeCents: semitones * 100, keepsTime: true } as const;
      const out = retimeSlice(monoOf(click), { ...how, material: 'notes' }).channels[0]!;
      const peak = Math.max(...out.map(Math.abs));
      expect(peak).toBeGreaterThan(0.7); // Of a step at frame 0, the highest part cannot be transposed up.
      expect(out.findIndex((x) => Math.abs(x) > 0.5 * peak)).toBeLessThan(8);
      // Not heard again: neither before nor after what rings.
      expect(Math.max(...out.subarray(6_000).map(Math.abs))).toBeLessThan(0.03);
    }
  });
});
