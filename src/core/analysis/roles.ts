/**
 * Guesses what a slice is from how its energy lies over bands and time: a linear classifier with a softmax (C. Bishop,
 * "Pattern Recognition and Machine Learning", 2006, section 4.3.4), its weights learned from labelled single hits and
 * from hits inside loops; and from what the slice adds to what sounded before.
 */
import { BAND_COUNT, type BandEnergies } from './band-energies.ts';
import { ROLES, type Role } from './role-names.ts';
import { ROLE_BIASES, ROLE_WEIGHTS } from './role-weights.ts';

/** A guess; `confidence` is the likelihood of the role among all roles, 0..1. */
export interface RoleGuess {
  role: Role;
  confidence: number;
}

/** Ends of the stretches of time over which energy is taken, in hops of about 1 ms from the slice's start. */
const STRETCH_EDGES = [0, 8, 25, 60, 130, 280] as const;
const STRETCHES = STRETCH_EDGES.length - 1;
/** Numbers that describe a slice: see {@link roleFeatures}. */
export const ROLE_FEATURE_COUNT = BAND_COUNT * STRETCHES + STRETCHES + 1;
const FLOOR_DB = -50;
const SILENCE = 1e-12;
/** Energies below this are silence, not the loudest of anything. */
const MIN_TOP = 1e-11;

/**
 * Describes the slice from `startHop` to `endHop`: for each stretch the level of every band in dB against the loudest
 * band of the loudest stretch, then the whole level of each stretch against the first, then the part of the last
 * stretch that the slice reaches. A stretch that the slice does not reach repeats the one before, falling by 6 dB.
 */
export function roleFeatures(energies: BandEnergies, startHop: number, endHop: number): Float64Array {
  const row = new Float64Array(ROLE_FEATURE_COUNT);
  const whole = new Float64Array(STRETCHES);
  const end = Math.min(endHop, energies.length);
  let loudest = 1e-12;
  for (let stretch = 0; stretch < STRETCHES; stretch++) {
    const from = startHop + STRETCH_EDGES[stretch]!;
    const to = Math.min(end, startHop + STRETCH_EDGES[stretch + 1]!);
    const reached = stretch === 0 || to - from >= 3;
    for (let band = 0; band < BAND_COUNT; band++) {
      let energy = 0;
      if (reached) {
        for (let hop = from; hop < to; hop++) energy += energies.bands[band]![hop]!;
        energy /= Math.max(1, to - from);
      } else {
        energy = row[(stretch - 1) * BAND_COUNT + band]! / 4;
      }
      row[stretch * BAND_COUNT + band] = energy;
      whole[stretch]! += energy;
      loudest = Math.max(loudest, energy);
    }
  }
  const relative = (energy: number, to: number) => Math.max(FLOOR_DB, 10 * Math.log10((energy + 1e-14) / to));
  for (let i = 0; i < BAND_COUNT * STRETCHES; i++) row[i] = relative(row[i]!, loudest) / 10;
  const reference = Math.max(whole[0]!, whole[1]!, 1e-14);
  for (let stretch = 0; stretch < STRETCHES; stretch++) {
    row[BAND_COUNT * STRETCHES + stretch] = relative(whole[stretch]!, reference) / 10;
  }
  row[ROLE_FEATURE_COUNT - 1] = Math.min(1, (end - startHop) / STRETCH_EDGES[STRETCHES]!);
  return row;
}

/** What sounded before: from so many hops before the start to so many. */
const BEFORE_HOPS = [22, 2] as const;
/** The two parts of what enters: the attack, and what comes after it, in hops from the start. */
const ENTRY_EDGES = [0, 12, 60] as const;
/** Share of what sounded before that is taken still to sound in each part. */
const STILL_SOUNDING = [1, 0.7] as const;
/** Rises are told from no lower than this against the loudest band. */
const ENTRY_FLOOR_DB = -60;
const MAX_RISE_DB = 40;
/** By how much a band falls at most in the attack and after it. */
const MAX_FALL_DB = [0, 10] as const;

/**
 * What a slice adds to what sounds already, so that a hat over a ringing kick is heard as a hat: for the attack and for
 * what follows, how far every band rises over the 20 ms before the start, then the level of what is new in it (with what
 * sounded before taken away) against the band with most that is new. Units of 10 dB.
 */
function entryFeatures({ bands, length }: BandEnergies, startHop: number, endHop: number): number[] {
  const end = Math.min(endHop, length);
  const mean = (band: Float32Array, from: number, to: number) => {
    const first = Math.max(0, from);
    let sum = 0;
    for (let hop = first; hop < to; hop++) sum += band[hop]!;
    return to > first ? sum / (to - first) : 0;
  };
  const before = bands.map((band) => mean(band, startHop - BEFORE_HOPS[0], startHop - BEFORE_HOPS[1]) + SILENCE);
  const parts = [0, 1].map((part) => {
    const to = Math.min(end, startHop + ENTRY_EDGES[part + 1]!);
    return bands.map((band) => mean(band, startHop + ENTRY_EDGES[part]!, to) + SILENCE);
  });
  const top = Math.max(MIN_TOP, ...parts.flat());
  const floor = top * 10 ** (ENTRY_FLOOR_DB / 10);
  const rises = parts.map((part, index) =>
    part.map((energy, band) => {
      const riseDb = 10 * Math.log10(energy / Math.max(before[band]!, floor));
      return Math.max(-MAX_FALL_DB[index]!, Math.min(MAX_RISE_DB, riseDb)) / 10;
    }),
  );
  const news = parts.map((part, index) => {
    const added = part.map((energy, band) => Math.max(1e-14, energy - STILL_SOUNDING[index]! * before[band]!));
    const most = Math.max(MIN_TOP, ...added);
    return added.map((energy) => Math.max(FLOOR_DB, 10 * Math.log10(energy / most)) / 10);
  });
  return [...rises, ...news].flat();
}

/** The likeliest role of the slice from `startHop` to `endHop`. */
export function guessRole(energies: BandEnergies, startHop: number, endHop: number): RoleGuess {
  const features = [...roleFeatures(energies, startHop, endHop), ...entryFeatures(energies, startHop, endHop)];
  const scores = ROLE_BIASES.map((bias, role) => {
    let sum = bias;
    const weights = ROLE_WEIGHTS[role]!;
    for (let i = 0; i < features.length; i++) sum += weights[i]! * features[i]!;
    return sum;
  });
  const top = Math.max(...scores);
  const total = scores.reduce((sum, score) => sum + Math.exp(score - top), 0);
  const best = scores.indexOf(top);
  return { role: ROLES[best] ?? 'other', confidence: 1 / total };
}
