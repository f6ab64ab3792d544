import { describe, expect, it } from 'vitest';
import { noise, sine } from '../../../tests/support/signals.ts';
import { layLoop } from '../dsp/sound-loop.ts';
import { findLoopPoints, loopQuality } from './loop-points.ts';
import { measurePitch } from './pitch.ts';

const RATE = 44100;

/** A made-up held note: partials that come in and die away at their own pace. */
function note(hz: number, seconds: number, decayDbPerSecond: number): Float32Array {
  const out = new Float32Array(Math.round(seconds * RATE));
  [1, 0.5, 0.3, 0.2, 0.1].forEach((level, partial) => {
    const tone = sine(hz * (partial + 1), seconds);
    for (let i = 0; i < out.length; i++) {
      const time = i / RATE;
      const fade = 10 ** ((-decayDbPerSecond * (1 + 0.2 * partial) * time) / 20);
      out[i]! += 0.3 * level * fade * Math.min(1, time / 0.02) * tone[i]!;
    }
  });
  return out;
}

describe('loops inside a sound', () => {
  it.each([
    [110, 0],
    [220, 1],
    [333.3, 3],
    [587.3, 0],
    [880, 2],
  ])(
    'of a note of %d Hz that loses %d dB a second keep its level within 0.5 dB, its pitch within 2 cents',
    (hz, db) => {
      const signal = note(hz, 2, db);
      const [best] = findLoopPoints(signal, RATE, 0, signal.length);
      expect(Math.abs(best!.levelStepDb)).toBeLessThan(0.5);
      expect(best!.likeness).toBeGreaterThan(0.99);
      const laid = layLoop([signal], { ...best!, soundStartFrame: 0, isBoth: false });
      const length = best!.endFrame - best!.startFrame;
      const round = Float32Array.from(
        { length: 3 * RATE },
        (_, i) => laid.channels[0]![best!.startFrame - laid.baseFrame + (i % length)]!,
      );
      const heard = measurePitch(round, RATE, 0, round.length)!;
      const wanted = 69 + 12 * Math.log2(hz / 440);
      expect(Math.abs((heard.midi - wanted) * 100 + heard.cents)).toBeLessThan(2);
    },
  );

  it('come best first, each another; none of silence, or of what is too short', () => {
    const signal = note(220, 2, 1);
    const found = findLoopPoints(signal, RATE, 0, signal.length);
    expect(found.length).toBeGreaterThan(3);
    const places = new Set(found.map(({ startFrame, endFrame }) => `${startFrame} ${endFrame}`));
    expect(places.size).toBe(found.length);
    expect(findLoopPoints(new Float32Array(RATE), RATE, 0, RATE)).toEqual([]);
    expect(findLoopPoints(signal, RATE, 0, 900)).toEqual([]);
  });

  it('say of noise that they are worse than those of a note', () => {
    const [ofNoise] = findLoopPoints(noise(2 * RATE, 4), RATE, 0, 2 * RATE);
    expect(ofNoise!.likeness).toBeLessThan(0.5);
  });
});

describe('a laid loop', () => {
  it('is the sound itself up to its crossfade, and repeats from there', () => {
    const signal = note(220, 1, 0);
    const range = { startFrame: 10_000, endFrame: 20_000, soundStartFrame: 0, crossfadeFrames: 500, isBoth: false };
    const laid = layLoop([signal], range);
    const at = (frame: number) => laid.channels[0]![frame - laid.baseFrame]!;
    for (let frame = laid.baseFrame; frame < laid.plainEndFrame; frame += 97) expect(at(frame)).toBe(signal[frame]);
    for (let frame = 20_000; frame < laid.wrapFrame; frame++) expect(at(frame)).toBe(at(frame - 10_000));
    expect([laid.periodFrames, laid.wrapFrame > 20_000]).toEqual([10_000, true]);
  });

  it('there and back goes through the same samples in both directions', () => {
    const signal = Float32Array.from({ length: 100 }, (_, i) => i);
    const range = { startFrame: 40, endFrame: 50, soundStartFrame: 0, crossfadeFrames: 9, isBoth: true };
    const laid = layLoop([signal], range);
    const from = 40 - laid.baseFrame;
    const round = [...laid.channels[0]!.subarray(from, from + 20)];
    expect(round).toEqual([40, 41, 42, 43, 44, 45, 46, 47, 48, 49, 48, 47, 46, 45, 44, 43, 42, 41, 40, 41]);
  });

  it('that begins with its sound fades out at its end: nothing is heard of what lies before', () => {
    const signal = new Float32Array(1_000).fill(1);
    const range = { startFrame: 400, endFrame: 800, soundStartFrame: 400, crossfadeFrames: 100, isBoth: false };
    const laid = layLoop([signal], range);
    const at = (frame: number) => laid.channels[0]![frame - laid.baseFrame]!;
    expect(at(399)).toBe(0);
    expect([at(690), at(750) < 0.6, at(799) < 0.02, at(800)]).toEqual([1, true, true, 1]);
  });
});

describe('how well a loop goes round', () => {
  const tone = (decay: number) =>
    Float32Array.from(
      { length: RATE },
      (_, i) => Math.exp((-decay * i) / RATE) * Math.sin((2 * Math.PI * 441 * i) / RATE),
    );

  it('is told of any loop: whole periods are alike, half of one is upside down, and what falls has a step', () => {
    expect(loopQuality(tone(0), RATE, 10_000, 20_000).likeness).toBeCloseTo(1, 3);
    expect(loopQuality(tone(0), RATE, 10_000, 20_050).likeness).toBeCloseTo(-1, 3);
    // 8.686 dB a neper: 20 nepers a second over 4,410 frames.
    expect(loopQuality(tone(20), RATE, 10_000, 14_400).levelStepDb).toBeCloseTo((-20 * 4_400 * 8.686) / RATE, 1);
  });
});
