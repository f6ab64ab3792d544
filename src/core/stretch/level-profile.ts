import type { PhaseVocoder } from './phase-vocoder.ts';

/** Bands in which levels are followed. */
export const BANDS = 12;
const MAX_SPECTRA = 10;
/** A part of a segment is judged by no fewer than these. */
const MIN_SPECTRA = 4;
/** Bands this far (50 dB) below the loudest are not heard. */
const HEARD_NEPERS = 50 / 8.686;
/** In this many neighbouring bands together a level that rises by more than this (8 dB) is a new hit, no wavering. */
const GROUP = 3;
const HIT_NEPERS = 8 / 8.686;
/** Faster than this nothing is taken to die away, in nepers a second (520 dB a second). */
const MIN_SLOPE = -60;
/** Slopes are measured under what rings from before, so they come out too flat; this much is added. */
const HASTE = 1.25;

/** How loud each band is through a segment, and how fast it dies away. */
export class LevelProfile {
  private readonly times: number[] = [];
  private readonly logs: Float64Array[] = [];
  private readonly sampleRate: number;
  /** Nepers a second, 0 or below. */
  readonly slopes = new Float64Array(BANDS);

  /** Measures between two centres, in frames from `sourceStart`. */
  constructor(
    source: readonly [Float32Array, Float32Array],
    sourceStart: number,
    from: number,
    to: number,
    vocoder: PhaseVocoder,
    sampleRate: number,
  ) {
    this.sampleRate = sampleRate;
    const count = Math.max(2, Math.min(MAX_SPECTRA, Math.ceil((to - from) / (vocoder.size / 4)) + 1));
    for (let k = 0; k < count; k++) {
      const centre = Math.round(from + ((to - from) * k) / (count - 1));
      const powers = vocoder.bandPowers(source, sourceStart + centre);
      this.times.push(centre);
      this.logs.push(powers.map((power) => 0.5 * Math.log(power + 1e-9)));
    }
    for (let band = 0; band < BANDS; band++) this.slopes[band] = this.medianSlope(band, count);
  }

  /** The slope of a band up to a centre only; of all of it where that is too little to tell. */
  slopeUntil(centre: number, band: number): number {
    const count = this.times.filter((time) => time <= centre).length;
    return count >= MIN_SPECTRA ? this.medianSlope(band, count) : this.slopes[band]!;
  }

  /** Whether all that is heard dies away at a pace, in nepers a second, or faster, and no hit that was not found is in it. */
  diesAway(pace: number): boolean {
    const loudest = this.slopes.map((_, band) => Math.max(...this.logs.map((logs) => logs[band]!)));
    const heard = Math.max(...loudest) - HEARD_NEPERS;
    if (this.slopes.some((slope, band) => slope > -pace && loudest[band]! > heard)) return false;
    for (let band = 0; band < BANDS; band += GROUP) {
      let least = Infinity;
      for (const logs of this.logs) {
        const power = logs.subarray(band, band + GROUP).reduce((sum, log) => sum + Math.exp(2 * log), 0);
        const level = Math.max(heard, 0.5 * Math.log(power));
        if (level - least > HIT_NEPERS) return false;
        least = Math.min(least, level);
      }
    }
    return true;
  }

  /** Theil and Sen: the median of the slopes between all pairs does not mind a note that ends. */
  private medianSlope(band: number, count: number): number {
    const slopes = new Float64Array((count * (count - 1)) / 2);
    let filled = 0;
    for (let i = 0; i < count; i++) {
      for (let j = i + 1; j < count; j++) {
        const seconds = (this.times[j]! - this.times[i]!) / this.sampleRate;
        slopes[filled++] = (this.logs[j]![band]! - this.logs[i]![band]!) / Math.max(1e-4, seconds);
      }
    }
    slopes.sort();
    return Math.max(MIN_SLOPE, Math.min(0, HASTE * (slopes[slopes.length >> 1] ?? 0)));
  }

  /** Level of a band at a centre, as the logarithm of its amplitude, between the measured ones. */
  at(centre: number, band: number): number {
    const { times, logs } = this;
    const last = times.length - 1;
    const place = Math.max(0, Math.min(last, ((centre - times[0]!) / Math.max(1, times[last]! - times[0]!)) * last));
    const k = Math.min(last - 1, Math.floor(place));
    return logs[k]![band]! + (place - k) * (logs[k + 1]![band]! - logs[k]![band]!);
  }
}
