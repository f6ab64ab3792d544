/**
 * Prints of slices, by which sounds of the whole shelf are compared: the levels that likeness is told from (see
 * likeness.ts), one byte each.
 */
import type { FrameRange, SourceAnalysis } from './analyse-source.ts';
import { MOST_PRINTS, PRINT_BYTES } from './print-size.ts';
import { ROLE_FEATURE_COUNT, roleFeatures } from './slice-features.ts';

/** Levels are in units of 10 dB from here up; the last number is a share of time. */
const LOWEST = -5;
const STEPS = 255;
/** A print is compared with a print of as many numbers. */
const [FROM, TO] = [LOWEST, 1];

export interface Prints {
  startFrames: number[];
  /** As many as there are starts, one after another. */
  bytes: Uint8Array;
}

/** @param ranges slices in their order; the first {@link MOST_PRINTS} are taken */
export function printsOf({ energies }: SourceAnalysis, ranges: readonly FrameRange[]): Prints {
  const some = ranges.slice(0, MOST_PRINTS);
  const bytes = new Uint8Array(some.length * PRINT_BYTES);
  for (const [place, { startFrame, endFrame }] of some.entries()) {
    const startHop = Math.round(startFrame / energies.hopFrames);
    const endHop = Math.max(startHop + 1, Math.round(endFrame / energies.hopFrames));
    const levels = roleFeatures(energies, startHop, endHop);
    for (let i = 0; i < Math.min(ROLE_FEATURE_COUNT, PRINT_BYTES); i++) {
      const share = (levels[i]! - FROM) / (TO - FROM);
      bytes[place * PRINT_BYTES + i] = Math.round(Math.max(0, Math.min(1, share)) * STEPS);
    }
  }
  return { startFrames: some.map(({ startFrame }) => startFrame), bytes };
}

/**
 * How far apart two prints are, in the units of {@link likenessMatrix}: 10 dB, root mean square.
 * @param at and otherAt where they begin, in bytes
 * @param within what is farther is only told to be so: Infinity
 */
export function printDistance(
  bytes: Uint8Array,
  at: number,
  other: Uint8Array,
  otherAt: number,
  within = Infinity,
): number {
  const most = ((within * STEPS) / (TO - FROM)) ** 2 * PRINT_BYTES;
  let sum = 0;
  for (let i = 0; i < PRINT_BYTES; i++) {
    const by = bytes[at + i]! - other[otherAt + i]!;
    sum += by * by;
    if (sum > most) return Infinity;
  }
  return (Math.sqrt(sum / PRINT_BYTES) * (TO - FROM)) / STEPS;
}
