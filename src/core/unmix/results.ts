/** What becomes of slices that were taken apart: in their place in the loop, or as sounds of their own. */
import { frameCount, type AudioData } from '../dsp/audio.ts';
import { addSamples } from '../dsp/mixing.ts';
import type { LoopSlice, SliceApart } from './in-loop.ts';

/** What one slice was taken apart into, with what is wanted of it: linear gains by layer, 0 for what is left out. */
export interface KeptApart {
  place: number;
  apart: Pick<SliceApart, 'layers' | 'left'>;
  gains: readonly number[];
}

/** Between sounds in one file, so that none reaches into the next. */
const GAP_SECONDS = 0.05;

/** What is changed sets in and ends over so long, so that it makes no click at the slice's ends. */
const FADE_IN_SECONDS = 0.001;
const FADE_OUT_SECONDS = 0.003;

/**
 * The loop with those slices changed: their layers at their gains, and what is in none of them. A layer without a gain, as
 * the ring, is out of it. As long as it was.
 */
export function withSlicesChanged(
  audio: AudioData,
  slices: readonly LoopSlice[],
  kept: readonly KeptApart[],
): AudioData {
  const channels = audio.channels.map((channel) => channel.slice());
  const [fadeIn, fadeOut] = [FADE_IN_SECONDS, FADE_OUT_SECONDS].map((seconds) => seconds * audio.sampleRate);
  for (const { place, apart, gains } of kept) {
    const { startFrame } = slices[place]!;
    for (const [channel, samples] of channels.entries()) {
      const frames = apart.left[channel]!.length;
      for (let i = 0; i < frames; i++) {
        let change = 0;
        for (const [layer, of] of apart.layers.entries()) change += ((gains[layer] ?? 0) - 1) * of[channel]![i]!;
        const fade = Math.min(1, (i + 1) / fadeIn!, (frames - i) / fadeOut!);
        samples[startFrame + i] = samples[startFrame + i]! + fade * change;
      }
    }
  }
  return { ...audio, channels };
}

/** A sound with other samples in a range of it, faded into what is around. */
export function withRange(audio: AudioData, startFrame: number, channels: readonly Float32Array[]): AudioData {
  const [fadeIn, fadeOut] = [FADE_IN_SECONDS, FADE_OUT_SECONDS].map((seconds) => seconds * audio.sampleRate);
  const changed = audio.channels.map((samples, channel) => {
    const out = samples.slice();
    const other = channels[channel]!;
    for (const [i, value] of other.entries()) {
      const fade = Math.min(1, (i + 1) / fadeIn!, (other.length - i) / fadeOut!);
      const before = out[startFrame + i]!;
      out[startFrame + i] = before + fade * (value - before);
    }
    return out;
  });
  return { ...audio, channels: changed };
}

export interface NewSound {
  startFrame: number;
  endFrame: number;
  /** Which slice it was in, by place, and which of its layers it is. */
  place: number;
  layer: number;
}

/** All layers that are wanted, one after another, with silence between them. */
export function asNewSounds(
  { sampleRate, channels }: Pick<AudioData, 'sampleRate' | 'channels'>,
  kept: readonly KeptApart[],
): { audio: AudioData; sounds: NewSound[] } {
  const gap = Math.round(GAP_SECONDS * sampleRate);
  const sounds: NewSound[] = [];
  let frames = 0;
  for (const { place, apart, gains } of kept) {
    for (const [layer, gain] of gains.entries()) {
      if (gain === 0) continue;
      const length = apart.layers[layer]![0]!.length;
      sounds.push({ startFrame: frames, endFrame: frames + length, place, layer });
      frames += length + gap;
    }
  }
  const out = channels.map(() => new Float32Array(Math.max(1, frames)));
  for (const { place, layer, startFrame } of sounds) {
    const { apart, gains } = kept.find((one) => one.place === place)!;
    for (const [channel, samples] of out.entries())
      addSamples(samples, startFrame, apart.layers[layer]![channel]!, gains[layer]);
  }
  return { audio: { sampleRate, channels: out }, sounds };
}

/** Loudest sample of a layer and its root mean square, in dB. */
export function levelsOf(channels: readonly Float32Array[]): { peakDb: number; rmsDb: number } {
  let [peak, sum] = [0, 0];
  for (const samples of channels) {
    for (const value of samples) {
      peak = Math.max(peak, Math.abs(value));
      sum += value * value;
    }
  }
  const count = Math.max(1, channels.length * frameCount({ sampleRate: 1, channels: [...channels] }));
  return { peakDb: 20 * Math.log10(peak), rmsDb: 10 * Math.log10(sum / count) };
}
