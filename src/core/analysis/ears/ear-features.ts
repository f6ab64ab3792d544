/**
 * What a slice is told by: levels in bands over windows from its start on, what is new in them against what sounded before,
 * the course of the attack, the lowest tones, and how tonal it is. All levels are against the slice's own loudest, so how
 * loud it is does not matter. Windows that a short slice does not reach repeat the one before, 3 dB lower, and it is said.
 */
import { WindowPair } from '../../dsp/window-pair.ts';
import {
  AFTER,
  BAND_EDGES_HZ,
  BANDS,
  CENTRES_MS,
  EAR_SIZE,
  LONG_CENTRES_MS,
  LOW_EDGES_HZ,
  RISES,
  SHORT_CENTRES_MS,
  SHORT_EDGES_HZ,
  STILL_SOUNDING,
  TONAL_EDGES_HZ,
  WINDOWS,
} from './ear-layout.ts';

/** Samples of a window; twice as many from a rate on. */
const [SHORT, MIDDLE, LONG] = [256, 1024, 4096];
const DOUBLED_FROM_HZ = 64_000;
const LEAST_SECONDS = 0.008;
const WHOLE_SECONDS = 0.37;
/** Samples are read up to so much after the start, and a long window. */
export const READ_SECONDS = 0.45;
/** Of a window that is cut off at least so much is made up for. */
const LEAST_SHARE = 0.15;
/** A window counts as reached where the slice goes on for so long after its middle, in ms. */
const REACH_MS = 3;
const SILENCE = 1e-11;

/** Bins of a band, with the share of the first and the last that lies in it. */
interface Band {
  first: number;
  weights: Float64Array;
}

function bandsOf(size: number, sampleRate: number, edges: readonly number[]): Band[] {
  const step = sampleRate / size;
  return edges.slice(1).map((high, place) => {
    const low = edges[place]!;
    const shares: number[] = [];
    let first = 0;
    for (let bin = 0; bin <= size / 2; bin++) {
      const share = (Math.min(bin * step + step / 2, high) - Math.max(bin * step - step / 2, low)) / step;
      if (share <= 0) continue;
      if (shares.length === 0) first = bin;
      shares.push(Math.min(1, share));
    }
    return { first, weights: Float64Array.from(shares) };
  });
}

function bandSum(power: Float64Array, { first, weights }: Band): number {
  let sum = 0;
  for (let i = 0; i < weights.length; i++) sum += power[first + i]! * weights[i]!;
  return sum;
}

function sumOf(numbers: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < numbers.length; i++) sum += numbers[i]!;
  return sum;
}

/** Decibels against a level, in tens, no lower than a floor. */
const tens = (power: number, top: number, floorDb: number) =>
  Math.max(floorDb, 10 * Math.log10(power / top + 1e-12)) / 10;

/** Where windows are taken, and where the slice ends: what comes after is silence. */
interface Place {
  signal: Float32Array;
  start: number;
  end: number;
  /** Samples from here on are not read. */
  stop: number;
}

/** Two windows of one size about moments of a slice. */
class Windows {
  private readonly pair: WindowPair;
  /** Sums of the window's squares up to a sample: what a window that is cut off has lost. */
  private readonly energy: Float64Array;

  constructor(
    readonly size: number,
    private readonly sampleRate: number,
  ) {
    this.pair = new WindowPair(size);
    const { window } = this.pair;
    this.energy = new Float64Array(size + 1);
    for (let i = 0; i < size; i++) this.energy[i + 1] = this.energy[i]! + window[i]! ** 2;
  }

  /** @param second left out: its powers are 0 */
  measure(place: Place, firstMs: number, second: number | undefined): WindowPair['powers'] {
    const { pair } = this;
    this.load(place, firstMs, 0);
    if (second === undefined) pair.loadNothing();
    else this.load(place, second, 1);
    pair.measure();
    return pair.powers;
  }

  private load({ signal, start, end, stop }: Place, centreMs: number, lane: 0 | 1): void {
    const { size, sampleRate, energy } = this;
    const from = start + Math.round((centreMs * sampleRate) / 1000) - size / 2;
    // What sounded before ends a little before the slice.
    const until = centreMs < 0 ? start - Math.trunc(0.001 * sampleRate) : end;
    const reached = Math.max(0, Math.min(size, until - from));
    const gain = 1 / Math.sqrt(Math.max(LEAST_SHARE, energy[reached]! / energy[size]!));
    this.pair.load(lane, signal, from, Math.min(until, stop), gain);
  }
}

/** Listens to slices of sounds of one sample rate; one instance serves one caller at a time. */
export class EarFeatures {
  private readonly middle: Windows;
  private readonly short: Windows;
  private readonly long: Windows;
  private readonly bands: Band[];
  private readonly shortBands: Band[];
  private readonly lowBands: Band[];
  private readonly tonalBands: Band[];
  private readonly longSize: number;
  private readonly levels = new Float64Array(WINDOWS * BANDS);

  constructor(private readonly sampleRate: number) {
    const times = sampleRate < DOUBLED_FROM_HZ ? 1 : 2;
    this.longSize = LONG * times;
    this.middle = new Windows(MIDDLE * times, sampleRate);
    this.short = new Windows(SHORT * times, sampleRate);
    this.long = new Windows(this.longSize, sampleRate);
    this.bands = bandsOf(MIDDLE * times, sampleRate, BAND_EDGES_HZ);
    this.shortBands = bandsOf(SHORT * times, sampleRate, SHORT_EDGES_HZ);
    this.lowBands = bandsOf(this.longSize, sampleRate, LOW_EDGES_HZ);
    this.tonalBands = bandsOf(this.longSize, sampleRate, TONAL_EDGES_HZ);
  }

  /** @returns {@link EAR_SIZE} numbers (see ear-layout.ts) */
  of(signal: Float32Array, startFrame: number, endFrame: number): Float32Array {
    const { sampleRate } = this;
    const length = Math.max(Math.trunc(LEAST_SECONDS * sampleRate), endFrame - startFrame);
    const stop = Math.min(signal.length, startFrame + Math.trunc(READ_SECONDS * sampleRate) + this.longSize);
    const place = { signal, start: startFrame, end: startFrame + length, stop };
    const out = new Writer();
    const reached = CENTRES_MS.map((ms, index) => index < 2 || ((ms + REACH_MS) * sampleRate) / 1000 <= length);
    this.measureLevels(place, reached);
    this.writeLevels(out);
    this.writeAttack(out, place);
    const isLong = ((LONG_CENTRES_MS[1] + REACH_MS) * sampleRate) / 1000 <= length;
    const lowShares = this.writeLong(out, place, isLong);
    for (let index = 2; index < WINDOWS; index++) out.put(reached[index] ? 1 : 0);
    out.put(Math.min(1, length / (WHOLE_SECONDS * sampleRate)));
    this.writeWhole(out);
    for (const share of lowShares) out.put(share);
    return out.numbers;
  }

  private measureLevels(place: Place, reached: readonly boolean[]): void {
    const { levels, bands, middle } = this;
    const { size } = middle;
    for (let index = 0; index < WINDOWS; index += 2) {
      if (!reached[index] && !reached[index + 1]) continue;
      const powers = middle.measure(place, CENTRES_MS[index]!, CENTRES_MS[index + 1]);
      for (let band = 0; band < BANDS; band++) {
        levels[index * BANDS + band] = bandSum(powers[0], bands[band]!) / size;
        levels[(index + 1) * BANDS + band] = bandSum(powers[1], bands[band]!) / size;
      }
    }
    for (let index = 2; index < WINDOWS; index++) {
      if (reached[index]) continue;
      for (let i = index * BANDS; i < (index + 1) * BANDS; i++) levels[i] = levels[i - BANDS]! / 2;
    }
  }

  private writeLevels(out: Writer): void {
    const { levels } = this;
    let top = SILENCE;
    for (let i = BANDS; i < levels.length; i++) top = Math.max(top, levels[i]!);
    const news = new Float64Array(AFTER * BANDS);
    let newest = SILENCE;
    for (let i = 0; i < news.length; i++) {
      const still = levels[i % BANDS]! * STILL_SOUNDING[Math.floor(i / BANDS)]!;
      news[i] = Math.max(0, levels[BANDS + i]! - still);
      newest = Math.max(newest, news[i]!);
    }
    for (let i = BANDS; i < levels.length; i++) out.put(tens(levels[i]!, top, -60));
    for (const one of news) out.put(tens(one, newest, -50));
    for (let band = 0; band < BANDS; band++) out.put(tens(levels[band]!, top, -60));
    const floor = top * 1e-6;
    for (let i = 0; i < RISES * BANDS; i++) {
      const riseDb = 10 * Math.log10((levels[BANDS + i]! + floor) / (levels[i % BANDS]! + floor));
      out.put(Math.max(-10, Math.min(40, riseDb)) / 10);
    }
  }

  private writeAttack(out: Writer, place: Place): void {
    const { short, shortBands } = this;
    const found: number[] = [];
    for (let index = 0; index < SHORT_CENTRES_MS.length; index += 2) {
      const second = SHORT_CENTRES_MS[index + 1];
      const powers = short.measure(place, SHORT_CENTRES_MS[index]!, second);
      for (const power of second === undefined ? powers.slice(0, 1) : powers)
        for (const band of shortBands) found.push(bandSum(power, band));
    }
    const top = Math.max(SILENCE, ...found);
    for (const one of found) out.put(tens(one, top, -50));
  }

  /** @returns the share of the lowest tones in the whole, of each long window */
  private writeLong(out: Writer, place: Place, isLong: boolean): number[] {
    const { long, lowBands, tonalBands } = this;
    const [first, second] = long.measure(place, LONG_CENTRES_MS[0], isLong ? LONG_CENTRES_MS[1] : undefined);
    // What the slice does not reach is as what it does.
    const powers = [first, isLong ? second : first] as const;
    const count = lowBands.length;
    const low = new Float64Array(2 * count);
    let top = SILENCE;
    for (let i = 0; i < low.length; i++) {
      low[i] = bandSum(powers[i < count ? 0 : 1], lowBands[i % count]!);
      top = Math.max(top, low[i]!);
    }
    for (const one of low) out.put(tens(one, top, -40));
    for (const power of powers) for (const band of tonalBands) writeTonal(out, power, band);
    const whole = sumOf(powers[0]);
    const wholes = [whole, isLong ? sumOf(powers[1]) : whole];
    return wholes.map((all, place) => tens(sumOf(low.subarray(place * count, (place + 1) * count)), all + 1e-12, -40));
  }

  private writeWhole(out: Writer): void {
    const { levels } = this;
    const wholes = CENTRES_MS.map((_, index) => {
      let sum = 0;
      for (let i = index * BANDS; i < (index + 1) * BANDS; i++) sum += levels[i]!;
      return sum;
    });
    // What begins after all that is read is silence here.
    const most = Math.max(SILENCE, ...wholes.slice(1));
    for (const whole of wholes.slice(1)) out.put(tens(whole, most, -60));
    out.put(tens(wholes[0]!, most, -60));
  }
}

/** How far the strongest bin of a band stands out of its mean, and the mean out of the geometric mean. */
function writeTonal(out: Writer, power: Float64Array, { first, weights }: Band): void {
  // Bins that lie more than half in it.
  let from = 0;
  let to = weights.length;
  while (from < to && weights[from]! <= 0.5) from++;
  while (to > from && weights[to - 1]! <= 0.5) to--;
  // Above half of the sample rate there is nothing.
  if (from === to) {
    out.put(0);
    out.put(0);
    return;
  }
  let [most, sum, logs, product] = [0, 0, 0, 1];
  for (let bin = first + from; bin < first + to; bin++) {
    const one = power[bin]! + 1e-12;
    if (one > most) most = one;
    sum += one;
    // One logarithm for many.
    product *= one;
    if (product > 1e-200 && product < 1e200) continue;
    logs += Math.log10(product);
    product = 1;
  }
  logs += Math.log10(product);
  const count = to - from;
  const mean = 10 * Math.log10(sum / count);
  out.put((10 * Math.log10(most) - mean) / 10);
  out.put((mean - (10 * logs) / count) / 10);
}

class Writer {
  readonly numbers = new Float32Array(EAR_SIZE);
  private at = 0;

  put(number: number): void {
    this.numbers[this.at++] = number;
  }
}
