import { describe, expect, it } from 'vitest';
import { noise } from '../../../tests/support/signals.ts';
import { findLetGo } from './let-go.ts';
import { retime, retimeSlice } from './retime.ts';

const RATE = 44100;

/** Six partials that are held and let go, with its level at each frame. */
function organ(seconds: number, levelAt: (seconds: number) => number, hz = 220): Float32Array {
  return Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => {
    let sum = 0;
    for (const k of [1, 2, 3, 4, 6, 8]) sum += Math.sin((2 * Math.PI * hz * k * i) / RATE + k) / (2 + k);
    return 0.3 * sum * Math.min(1, i / 200) * levelAt(i / RATE);
  });
}

const letGoAt = (at: number, fadeSeconds: number) => (seconds: number) =>
  seconds < at ? 1 : Math.exp((at - seconds) / fadeSeconds);

const find = (sound: Float32Array) => findLetGo([sound, sound], { sourceStart: 0, sourceEnd: sound.length }, RATE);

function levelDb(sound: Float32Array, seconds: number): number {
  const from = Math.round(seconds * RATE);
  const part = sound.subarray(from, from + 882);
  return 10 * Math.log10(part.reduce((sum, one) => sum + one * one, 1e-12) / 882);
}

describe('where a held note is let go', () => {
  it.each([
    [0.2, 0.01],
    [0.35, 0.03],
    [0.5, 0.06],
  ])('is found: held for %f s, with a fade of %f s', (seconds, fadeSeconds) => {
    const found = find(organ(1, letGoAt(seconds, fadeSeconds)));
    expect(found!.frame / RATE).toBeGreaterThan(seconds - 0.02);
    expect(found!.frame / RATE).toBeLessThan(seconds + 0.02);
    // 30 dB are 3.5 times the time in which it falls to a third.
    expect(found!.fadedFrame / RATE - seconds).toBeGreaterThan(2.5 * fadeSeconds);
    expect(found!.fadedFrame / RATE - seconds).toBeLessThan(4 * fadeSeconds + 0.03);
  });

  it('is nowhere in what dies away, is held to the end, comes back, or is no tone', () => {
    const pluck = organ(1, (seconds) => Math.exp(-seconds / 0.12));
    const held = organ(1, () => 1);
    const again = organ(1, (seconds) => (seconds > 0.3 && seconds < 0.5 ? 0.01 : 1));
    const gated = noise(RATE, 3).map((one, i) => one * letGoAt(0.3, 0.01)(i / RATE));
    const kick = Float32Array.from(
      { length: RATE },
      (_, i) => Math.sin((2 * Math.PI * 55 * i) / RATE) * Math.exp(-i / RATE / 0.15),
    );
    for (const sound of [pluck, held, again, gated, kick]) expect(find(sound)).toBeNull();
  });

  it('is nowhere in silence, and in what is too short to tell', () => {
    for (const length of [0, 1, 100, 3000, RATE]) expect(find(new Float32Array(length))).toBeNull();
    expect(find(noise(200, 1))).toBeNull();
  });

  it('is told in the time of the original where the source is transposed', () => {
    // An octave up the fall of a pluck is twice as steep; it is a pluck all the same.
    const bend = organ(0.6, (seconds) =>
      seconds < 0.25 ? Math.exp(-seconds / 0.4) : Math.exp(-0.625 - (seconds - 0.25) / 0.07),
    );
    const [source, whole] = [[bend, bend] as const, { sourceStart: 0, sourceEnd: bend.length }];
    expect(findLetGo(source, whole, RATE, 1)).not.toBeNull();
    expect(findLetGo(source, whole, RATE, 2)).toBeNull();
  });
});

describe('a stab that is stretched', () => {
  it.each([0.6, 1.4, 1.9])('to %f of its length is let go at its place in the new time', (ratio) => {
    const stab = organ(1, letGoAt(0.35, 0.02));
    const sound = new Float32Array(2 * RATE);
    sound.set(stab);
    sound.set(stab, RATE);
    const audio = { sampleRate: RATE, channels: [sound] };
    const [out] = retime(audio, [{ frame: 0 }, { frame: RATE }], {
      mode: 'stretch',
      ratio,
      semitones: 0,
      tail: 'ring',
      material: 'notes',
    }).channels;
    for (const start of [0, ratio]) {
      const held = levelDb(out!, start + 0.1);
      expect(levelDb(out!, start + 0.35 * ratio - 0.04)).toBeGreaterThan(held - 2);
      expect(levelDb(out!, start + 0.35 * ratio + 0.07)).toBeLessThan(held - 15);
    }
  });

  it('does so as a slice of its own, and transposed in its own time', () => {
    const audio = { sampleRate: RATE, channels: [organ(1, letGoAt(0.4, 0.02))] };
    for (const transposeCents of [0, 700, -500]) {
      const [out] = retimeSlice(audio, {
        startFrame: 0,
        endFrame: RATE,
        fill: 'stretch',
        material: 'notes',
        length: Math.round(1.4 * RATE),
        transposeCents,
      }).channels;
      const held = levelDb(out!, 0.12);
      expect(levelDb(out!, 0.56 - 0.05)).toBeGreaterThan(held - 2);
      expect(levelDb(out!, 0.56 + 0.09)).toBeLessThan(held - 15);
    }
  });
});
