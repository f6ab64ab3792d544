/**
 * Loudness and peaks of a mix. Integrated loudness after Recommendation ITU-R BS.1770-4, annex 1: the K-weighting of
 * tables 1 and 2, blocks of 400 ms that overlap by three quarters, gates at -70 LUFS and 10 LU below what is left.
 */
import type { AudioData } from '../dsp/audio.ts';
import { BiquadState } from '../dsp/biquad.ts';
import { TruePeakMeter } from './true-peak.ts';
import { kWeighting, loudnessOf } from '../dsp/k-weighting.ts';

const BLOCK_SECONDS = 0.4;
const STEPS_A_BLOCK = 4;
const ABSOLUTE_GATE_LUFS = -70;
const RELATIVE_GATE_LU = -10;
const STEPS_A_SHORT_TERM = 30;
const RANGE_GATE_LU = -20;

/** Integrated loudness in LUFS of one or two channels; minus infinity for silence and for less than a block. */
export function integratedLoudness(audio: AudioData): number {
  const meter = new LoudnessMeter(audio.sampleRate, audio.channels.length);
  meter.push(audio.channels);
  return meter.integratedLufs();
}

/** Loudness of what comes piece by piece. */
class LoudnessMeter {
  /** Mean square of each finished step of 100 ms, channels added up. */
  private readonly steps: number[] = [];
  private readonly filters: BiquadState[][];
  private readonly stepFrames: number;
  private sum = 0;
  private gone = 0;

  constructor(sampleRate: number, channelCount: number) {
    this.stepFrames = Math.round((BLOCK_SECONDS / STEPS_A_BLOCK) * sampleRate);
    this.filters = Array.from({ length: channelCount }, () =>
      kWeighting(sampleRate).map((section) => new BiquadState(section)),
    );
  }

  push(channels: readonly Float32Array[]): void {
    const weighted = channels.map((channel, side) => {
      const out = new Float32Array(channel.length);
      this.filters[side]![0]!.run(channel, out);
      this.filters[side]![1]!.run(out, out);
      return out;
    });
    const count = weighted[0]!.length;
    for (let i = 0; i < count; i++) {
      for (const channel of weighted) this.sum += channel[i]! * channel[i]!;
      if (++this.gone < this.stepFrames) continue;
      this.steps.push(this.sum / this.stepFrames);
      this.sum = this.gone = 0;
    }
  }

  /** Mean squares over windows of so many steps that overlap by all steps but one. */
  private windows(steps: number): number[] {
    const found: number[] = [];
    for (let at = 0; at + steps <= this.steps.length; at++) found.push(mean(this.steps.slice(at, at + steps)));
    return found;
  }

  integratedLufs(): number {
    const loud = this.windows(STEPS_A_BLOCK).filter((block) => loudnessOf(block) > ABSOLUTE_GATE_LUFS);
    if (loud.length === 0) return -Infinity;
    const gate = loudnessOf(mean(loud)) + RELATIVE_GATE_LU;
    const counted = loud.filter((block) => loudnessOf(block) > gate);
    return counted.length === 0 ? -Infinity : loudnessOf(mean(counted));
  }

  /**
   * Loudness range after EBU Tech 3342 (2016): short-term loudness of 3 s, gates at -70 LUFS and 20 LU below what is left,
   * from its tenth to its ninety-fifth of a hundred; 0 of less than 3 s.
   */
  rangeLu(): number {
    const loud = this.windows(STEPS_A_SHORT_TERM).filter((block) => loudnessOf(block) > ABSOLUTE_GATE_LUFS);
    if (loud.length === 0) return 0;
    const gate = loudnessOf(mean(loud)) + RANGE_GATE_LU;
    const counted = loud.map(loudnessOf).filter((lufs) => lufs > gate);
    counted.sort((a, b) => a - b);
    const at = (share: number) => counted[Math.round(share * (counted.length - 1))]!;
    return counted.length === 0 ? 0 : at(0.95) - at(0.1);
  }
}

const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

export interface MixLevels {
  seconds: number;
  /** Loudest sample of all channels, in dB below full scale; above 0 it would be cut off in a file of integers. */
  peakDb: number;
  /** Highest between the samples, too: what a converter, or a lossy format, makes of it. In dB. */
  truePeakDb: number;
  /** Where the loudest sample is. */
  peakSeconds: number;
  loudnessLufs: number;
  /** Between its quiet and its loud places, in LU. */
  rangeLu: number;
  /** Peak and root mean square of each of equal stretches, as amplitudes. */
  peaks: number[];
  means: number[];
}

const decibels = (amplitude: number) => (amplitude > 0 ? 20 * Math.log10(amplitude) : -Infinity);

/** @param stretches how many there are of `peaks` and `means` */
export function measureMix(audio: AudioData, stretches: number): MixLevels {
  const meter = new MixMeter(audio.sampleRate, audio.channels.length);
  meter.push(audio.channels);
  return meter.finish(stretches);
}

/** So long is a stretch of what is kept of what goes by: the picture's are put together of them. */
const KEPT_SECONDS = 0.01;

/** All that is to be known of a mix that comes piece by piece; of an hour it keeps some megabytes. */
export class MixMeter {
  private readonly loudness: LoudnessMeter;
  private readonly truePeaks: TruePeakMeter[];
  private readonly keptFrames: number;
  private readonly keptPeaks: number[] = [0];
  private readonly keptSums: number[] = [0];
  private frames = 0;
  private peak = 0;
  private peakFrame = 0;

  constructor(
    private readonly sampleRate: number,
    private readonly channelCount: number,
  ) {
    this.loudness = new LoudnessMeter(sampleRate, channelCount);
    this.truePeaks = Array.from({ length: channelCount }, () => new TruePeakMeter());
    this.keptFrames = Math.max(1, Math.round(KEPT_SECONDS * sampleRate));
  }

  push(channels: readonly Float32Array[]): void {
    this.loudness.push(channels);
    for (const [side, channel] of channels.entries()) {
      this.truePeaks[side]!.push(channel);
      for (let i = 0; i < channel.length; i++) {
        const level = Math.abs(channel[i]!);
        const place = Math.floor((this.frames + i) / this.keptFrames);
        this.keptPeaks[place] = Math.max(this.keptPeaks[place] ?? 0, level);
        this.keptSums[place] = (this.keptSums[place] ?? 0) + level * level;
        if (level <= this.peak) continue;
        this.peak = level;
        this.peakFrame = this.frames + i;
      }
    }
    this.frames += channels[0]!.length;
  }

  finish(stretches: number): MixLevels {
    const { frames, sampleRate, keptFrames, channelCount } = this;
    const peaks = new Array<number>(stretches).fill(0);
    const sums = new Float64Array(stretches);
    const counts = new Float64Array(stretches);
    for (let place = 0; place * keptFrames < frames; place++) {
      const from = Math.floor((place * keptFrames * stretches) / frames);
      const last = Math.min(stretches, Math.ceil((Math.min(frames, (place + 1) * keptFrames) * stretches) / frames));
      // What is kept may be longer than a stretch of the picture.
      for (let stretch = from; stretch < Math.max(from + 1, last); stretch++) {
        peaks[stretch] = Math.max(peaks[stretch]!, this.keptPeaks[place]!);
        sums[stretch]! += this.keptSums[place]!;
        counts[stretch]! += Math.min(keptFrames, frames - place * keptFrames) * channelCount;
      }
    }
    const truePeaks = this.truePeaks.map((meter) => meter.finish());
    return {
      seconds: frames / sampleRate,
      peakDb: decibels(this.peak),
      truePeakDb: decibels(Math.max(0, ...truePeaks)),
      peakSeconds: this.peakFrame / sampleRate,
      loudnessLufs: this.loudness.integratedLufs(),
      rangeLu: this.loudness.rangeLu(),
      peaks,
      means: Array.from(sums, (sum, stretch) => (counts[stretch]! > 0 ? Math.sqrt(sum / counts[stretch]!) : 0)),
    };
  }
}
