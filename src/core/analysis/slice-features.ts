/** What a slice is compared by: how its energy lies over bands and time. */
import { BAND_COUNT, type BandEnergies } from './band-energies.ts';

/** Ends of the stretches of time over which energy is taken, in hops of about 1 ms from the slice's start. */
const STRETCH_EDGES = [0, 8, 25, 60, 130, 280] as const;
const STRETCHES = STRETCH_EDGES.length - 1;
/** Numbers that describe a slice: see {@link roleFeatures}. */
export const ROLE_FEATURE_COUNT = BAND_COUNT * STRETCHES + STRETCHES + 1;
const FLOOR_DB = -50;

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
