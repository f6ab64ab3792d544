/** How far a stretched sound is from the ideal one. */
import { mixToMono, type AudioData } from '#core/dsp/audio.ts';
import { PowerSpectrum } from '#core/dsp/fft.ts';
import { countAddedClicks } from './clicks.ts';
import { RATE } from './stretch-material.ts';

export interface StretchScore {
  /** For each attack: distance of the steepest rise of energy from the ideal's, both within 5 ms around it, in ms. */
  timingMs: number[];
  /** The same, both looked for within 10 ms to either side. */
  wideTimingMs: number[];
  /** For each attack: how steep it rises against the ideal, in dB. */
  attackDb: number[];
  /** For each attack: energy of the 15 ms before against the ideal, in dB. */
  preEchoDb: number[];
  /** Mean distance of the logarithmic mel spectra, in dB. */
  melDb: number;
  /** Level of left minus right against the ideal, in dB. */
  sideDb: number;
  /** Clicks a second that the ideal has not, of all channels. */
  clicksPerSecond: number;
}

const ENERGY_WINDOW = Math.round(0.002 * RATE);
const ENERGY_HOP = Math.round(0.0005 * RATE);
/** Looked for so far to either side of an attack: 5 ms, and 10. */
const SEARCH_HOPS = Math.round((0.005 * RATE) / ENERGY_HOP);
const WIDE_SEARCH_HOPS = 2 * SEARCH_HOPS;
/** Rises below this are silence. */
const MIN_RISE = 1e-7;
const PRE_FRAMES = Math.round(0.015 * RATE);
const MEL_BANDS = 40;
const MEL_TOP_HZ = 16_000;
const MEL_WINDOW = 2048;
const MEL_HOP = 512;
/** Levels this far below the loudest count as silence, as power. */
const MEL_FLOOR = 1e-6;

export function scoreStretch(ideal: AudioData, result: AudioData, attacks: readonly number[]): StretchScore {
  const a = mixToMono(ideal);
  const b = new Float32Array(a.length);
  b.set(mixToMono(result).subarray(0, a.length));
  const idealEnergy = shortEnergies(a);
  const energy = shortEnergies(b);
  const melDb = melDistance(a, b);
  const score: StretchScore = {
    timingMs: [],
    wideTimingMs: [],
    attackDb: [],
    preEchoDb: [],
    melDb,
    sideDb: 0,
    clicksPerSecond: 0,
  };
  for (const attack of attacks) {
    const wanted = steepest(idealEnergy, attack, SEARCH_HOPS);
    if (wanted.rise < MIN_RISE) continue;
    const found = steepest(energy, attack, SEARCH_HOPS);
    const toMs = (hops: number) => (Math.abs(hops) * ENERGY_HOP * 1000) / RATE;
    score.timingMs.push(toMs(found.hop - wanted.hop));
    const wide = [energy, idealEnergy].map((energies) => steepest(energies, attack, WIDE_SEARCH_HOPS).hop);
    score.wideTimingMs.push(toMs(wide[0]! - wide[1]!));
    score.attackDb.push(10 * Math.log10(Math.max(found.rise, 1e-12) / wanted.rise));
    if (attack < PRE_FRAMES) continue;
    // What is softer than 35 dB under the attack is not heard before it.
    const heard = power(a, attack, attack + 2205) * 3e-4;
    const before = (x: Float32Array) => power(x, attack - PRE_FRAMES, attack - ENERGY_HOP) + heard + 1e-9;
    score.preEchoDb.push(10 * Math.log10(before(b) / before(a)));
  }
  score.sideDb = 10 * Math.log10((sidePower(result) + 1e-9) / (sidePower(ideal) + 1e-9));
  const clicks = result.channels.reduce(
    (sum, channel, side) => sum + countAddedClicks(ideal.channels[side]!, channel, RATE, attacks),
    0,
  );
  score.clicksPerSecond = clicks / (a.length / RATE);
  return score;
}

function power(x: Float32Array, from: number, to: number): number {
  let sum = 0;
  for (let i = Math.max(0, from); i < Math.min(to, x.length); i++) sum += x[i]! ** 2;
  return sum;
}

function sidePower({ channels }: AudioData): number {
  const [left, right] = channels;
  return right ? left!.reduce((sum, value, i) => sum + (value - right[i]!) ** 2, 0) : 0;
}

function shortEnergies(x: Float32Array): Float64Array {
  return Float64Array.from({ length: Math.max(0, Math.floor((x.length - ENERGY_WINDOW) / ENERGY_HOP)) }, (_, hop) => {
    return power(x, hop * ENERGY_HOP, hop * ENERGY_HOP + ENERGY_WINDOW) / ENERGY_WINDOW;
  });
}

function steepest(energies: Float64Array, attack: number, hops: number): { hop: number; rise: number } {
  // The rise from two hops before to a hop belongs to the middle of what both windows cover.
  const centre = Math.round((attack - ENERGY_WINDOW / 2) / ENERGY_HOP) + 1;
  let best = { hop: centre, rise: 0 };
  for (let hop = Math.max(2, centre - hops); hop <= Math.min(energies.length - 1, centre + hops); hop++) {
    const rise = energies[hop]! - energies[hop - 2]!;
    if (rise > best.rise) best = { hop, rise };
  }
  return best;
}

/** O'Shaughnessy's mel scale, `2595 log10(1 + f / 700)` ("Speech Communication", 1987). */
const mel = (hz: number) => 2595 * Math.log10(1 + hz / 700);

function melSpectra(x: Float32Array): Float64Array[] {
  const fft = new PowerSpectrum(MEL_WINDOW);
  const bins = new Float32Array(fft.binCount);
  const spectra: Float64Array[] = [];
  for (let at = 0; at + MEL_WINDOW <= x.length; at += MEL_HOP) {
    fft.measure(x, at, bins);
    const bands = new Float64Array(MEL_BANDS);
    for (let k = 1; k < fft.binCount; k++) {
      const band = Math.floor((mel((k * RATE) / MEL_WINDOW) / mel(MEL_TOP_HZ)) * MEL_BANDS);
      if (band < MEL_BANDS) bands[band]! += bins[k]!;
    }
    spectra.push(bands);
  }
  return spectra;
}

function melDistance(a: Float32Array, b: Float32Array): number {
  const ideal = melSpectra(a);
  const result = melSpectra(b);
  const floor = MEL_FLOOR * Math.max(1e-9, ...ideal.map((bands) => Math.max(...bands)));
  let sum = 0;
  ideal.forEach((bands, frame) =>
    bands.forEach((value, band) => {
      sum += Math.abs(10 * Math.log10((value + floor) / (result[frame]![band]! + floor)));
    }),
  );
  return sum / Math.max(1, ideal.length * MEL_BANDS);
}
