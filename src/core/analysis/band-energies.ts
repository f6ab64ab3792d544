/** The energy of a signal in a few frequency bands, millisecond by millisecond: what hits are read from. */
import { bandPass, type Biquad } from '../dsp/biquad.ts';
import { runToEnd } from '../units/steps.ts';

/** Lower edges of the bands in Hz; each reaches to the next edge. */
export const BAND_EDGES_HZ = [35, 90, 180, 360, 720, 1440, 2880, 5760, 11520, 20000] as const;
export const BAND_COUNT = BAND_EDGES_HZ.length - 1;

/** The bands below 720 Hz are read at a quarter of rates from here on. */
const QUARTERED_BANDS = 4;
const QUARTERED_FROM_HZ = 40000;

export interface BandEnergies {
  /** Frames from one value to the next (about 1 ms). */
  hopFrames: number;
  /** Values in each band. */
  length: number;
  /** Mean square of each band in each hop: `bands[band][hop]`. */
  bands: Float32Array[];
}

/**
 * Splits a signal with two equal band-pass sections a band and takes the mean square in every hop of about 1 ms.
 * Bands above 45% of the sample rate stay 0. Cost: about 1% of real time.
 */
export function measureBandEnergies(signal: Float32Array, sampleRate: number): BandEnergies {
  return runToEnd(bandEnergySteps(signal, sampleRate));
}

/** The same in steps, one a band, each yielding the share that is done. */
export function* bandEnergySteps(signal: Float32Array, sampleRate: number): Generator<number, BandEnergies> {
  const hopFrames = Math.max(1, Math.round(sampleRate / 1000));
  const length = Math.ceil(signal.length / hopFrames);
  const bands: Float32Array[] = [];
  // The low bands need no more than a quarter of the rate.
  const quarter = sampleRate >= QUARTERED_FROM_HZ && hopFrames % 4 === 0 ? quarterRate(signal) : null;
  for (let band = 0; band < BAND_COUNT; band++) {
    yield band / BAND_COUNT;
    const low = BAND_EDGES_HZ[band]!;
    const high = Math.min(BAND_EDGES_HZ[band + 1]!, sampleRate * 0.47);
    const energies = new Float32Array(length);
    if (low < sampleRate * 0.4) {
      const centre = Math.sqrt(low * high);
      const factor = quarter && band < QUARTERED_BANDS ? 4 : 1;
      const section = bandPass(centre, centre / (high - low), sampleRate / factor);
      bandEnergy(section, factor === 4 ? quarter! : signal, hopFrames / factor, energies);
    }
    bands.push(energies);
  }
  return { hopFrames, length, bands };
}

/** What three running means over four samples, one after the other, weigh ten samples by. */
const QUARTER_WEIGHTS = [1, 3, 6, 10, 12, 12, 10, 6, 3, 1].map((weight) => weight / 64);

/**
 * Every fourth value of a signal smoothed so that what would fold onto the low bands lies 66 dB and more below. Value
 * `n` belongs to the middle of samples `4 n` to `4 n + 3`.
 */
function quarterRate(signal: Float32Array): Float32Array {
  const [w0, w1, w2, w3, w4] = QUARTER_WEIGHTS as [number, number, number, number, number];
  const out = new Float32Array(Math.ceil(signal.length / 4));
  const lastWhole = Math.floor((signal.length - 7) / 4);
  for (let n = 1, i = 4; n <= lastWhole; n++, i += 4) {
    out[n] =
      w0 * (signal[i - 3]! + signal[i + 6]!) +
      w1 * (signal[i - 2]! + signal[i + 5]!) +
      w2 * (signal[i - 1]! + signal[i + 4]!) +
      w3 * (signal[i]! + signal[i + 3]!) +
      w4 * (signal[i + 1]! + signal[i + 2]!);
  }
  // At the ends the signal is not there: it counts as 0.
  const ends = [0];
  for (let n = Math.max(1, lastWhole + 1); n < out.length; n++) ends.push(n);
  for (const n of ends)
    out[n] = QUARTER_WEIGHTS.reduce((sum, weight, k) => sum + weight * (signal[4 * n - 3 + k] ?? 0), 0);
  return out;
}

/** Filters twice and squares without keeping the filtered signal. */
function bandEnergy(section: Biquad, signal: Float32Array, hopFrames: number, out: Float32Array): void {
  const { b0, a1, a2 } = section;
  let p1 = 0;
  let p2 = 0;
  let q1 = 0;
  let q2 = 0;
  for (let hop = 0; hop < out.length; hop++) {
    const from = hop * hopFrames;
    const to = Math.min(signal.length, from + hopFrames);
    let sum = 0;
    for (let i = from; i < to; i++) {
      const x = signal[i]! * b0;
      const y = x + p1;
      p1 = p2 - a1 * y;
      p2 = -x - a2 * y;
      const u = y * b0;
      const z = u + q1;
      q1 = q2 - a1 * z;
      q2 = -u - a2 * z;
      sum += z * z;
    }
    out[hop] = sum / (to - from);
  }
}
