/** Made-up signals with a known truth. */
import type { AudioData } from '#core/dsp/audio.ts';
import { seededRandom } from '#core/units/random.ts';

/** A steady sine of amplitude 1. */
export function sine(frequencyHz: number, seconds: number, sampleRate = 44100): Float32Array {
  return Float32Array.from({ length: Math.round(seconds * sampleRate) }, (_, i) =>
    Math.sin((2 * Math.PI * frequencyHz * i) / sampleRate),
  );
}

/** Noise bursts that begin abruptly at the given frames and die away within about 80 ms: a made-up drum loop. */
export function burstLoop(frames: number, starts: readonly number[], sampleRate = 44100, channels = 2): AudioData {
  const random = seededRandom(7);
  const out = Array.from({ length: channels }, () => new Float32Array(frames));
  for (const start of starts) {
    for (let i = 0; i < sampleRate * 0.2 && start + i < frames; i++) {
      const level = Math.exp((-i / sampleRate) * 40);
      for (const channel of out) channel[start + i]! += 0.6 * level * (random() * 2 - 1);
    }
  }
  return { sampleRate, channels: out };
}

/** A loop of eight equal steps with a burst at the start of each. */
export function eightStepLoop(frames = 88200, sampleRate = 44100): { audio: AudioData; starts: number[] } {
  const starts = Array.from({ length: 8 }, (_, step) => Math.round((frames * step) / 8));
  return { audio: burstLoop(frames, starts, sampleRate), starts };
}

/** Index of the first sample that differs, -1 when two signals are the same (far faster than comparing with toEqual). */
export function firstDifference(a: Float32Array, b: Float32Array): number {
  if (a.length !== b.length) return Math.min(a.length, b.length);
  return a.findIndex((sample, index) => sample !== b[index]);
}

/** White noise that is the same every time. */
export function noise(frames: number, seed: number): Float32Array {
  const random = seededRandom(seed);
  return Float32Array.from({ length: frames }, () => random() * 2 - 1);
}
