/**
 * Loudness and peaks of a mix. Integrated loudness after Recommendation ITU-R BS.1770-4, annex 1: the K-weighting of
 * tables 1 and 2, blocks of 400 ms that overlap by three quarters, gates at -70 LUFS and 10 LU below what is left.
 */
import { frameCount, type AudioData } from '../dsp/audio.ts';
import { truePeak } from './true-peak.ts';
import { filterInto } from '../dsp/biquad.ts';
import { kWeighting, loudnessOf } from '../dsp/k-weighting.ts';

const BLOCK_SECONDS = 0.4;
const STEPS_A_BLOCK = 4;
const ABSOLUTE_GATE_LUFS = -70;
const RELATIVE_GATE_LU = -10;

/** Integrated loudness in LUFS of one or two channels; minus infinity for silence and for less than a block. */
export function integratedLoudness(audio: AudioData): number {
  const stepFrames = Math.round((BLOCK_SECONDS / STEPS_A_BLOCK) * audio.sampleRate);
  const stepCount = Math.floor(frameCount(audio) / stepFrames);
  const power = new Float64Array(Math.max(0, stepCount));
  const sections = kWeighting(audio.sampleRate);
  for (const channel of audio.channels) {
    const weighted = new Float32Array(channel.length);
    filterInto(sections[0], channel, weighted);
    filterInto(sections[1], weighted, weighted);
    for (let step = 0; step < stepCount; step++) {
      let sum = 0;
      for (let i = step * stepFrames; i < (step + 1) * stepFrames; i++) sum += weighted[i]! * weighted[i]!;
      power[step]! += sum / stepFrames;
    }
  }
  const blocks: number[] = [];
  for (let step = 0; step + STEPS_A_BLOCK <= stepCount; step++) {
    let sum = 0;
    for (let i = 0; i < STEPS_A_BLOCK; i++) sum += power[step + i]!;
    blocks.push(sum / STEPS_A_BLOCK);
  }
  const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
  const loud = blocks.filter((block) => loudnessOf(block) > ABSOLUTE_GATE_LUFS);
  if (loud.length === 0) return -Infinity;
  const gate = loudnessOf(mean(loud)) + RELATIVE_GATE_LU;
  const counted = loud.filter((block) => loudnessOf(block) > gate);
  return counted.length === 0 ? -Infinity : loudnessOf(mean(counted));
}

export interface MixLevels {
  seconds: number;
  /** Loudest sample of all channels, in dB below full scale; above 0 it would be cut off in a file of integers. */
  peakDb: number;
  /** Highest between the samples, too: what a converter, or a lossy format, makes of it. In dB. */
  truePeakDb: number;
  /** Where the loudest sample is. */
  peakSeconds: number;
  loudnessLufs: number;
  /** Peak and root mean square of each of equal stretches, as amplitudes. */
  peaks: number[];
  means: number[];
}

const decibels = (amplitude: number) => (amplitude > 0 ? 20 * Math.log10(amplitude) : -Infinity);

/** @param stretches how many there are of `peaks` and `means` */
export function measureMix(audio: AudioData, stretches: number): MixLevels {
  const frames = frameCount(audio);
  const peaks = new Array<number>(stretches).fill(0);
  const sums = new Float64Array(stretches);
  let peak = 0;
  let peakFrame = 0;
  for (const channel of audio.channels) {
    for (let i = 0; i < frames; i++) {
      const level = Math.abs(channel[i]!);
      const stretch = Math.floor((i * stretches) / frames);
      if (level > peaks[stretch]!) peaks[stretch] = level;
      sums[stretch]! += level * level;
      if (level > peak) {
        peak = level;
        peakFrame = i;
      }
    }
  }
  const each = (frames * audio.channels.length) / stretches;
  return {
    seconds: frames / audio.sampleRate,
    peakDb: decibels(peak),
    truePeakDb: decibels(audio.channels.reduce((most, channel) => Math.max(most, truePeak(channel)), 0)),
    peakSeconds: peakFrame / audio.sampleRate,
    loudnessLufs: integratedLoudness(audio),
    peaks,
    means: Array.from(sums, (sum) => (each > 0 ? Math.sqrt(sum / each) : 0)),
  };
}
