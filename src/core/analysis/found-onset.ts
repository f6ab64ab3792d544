import type { Onset } from './select-onsets.ts';

/** Candidates are listed from this likelihood on. */
export const CANDIDATES_LISTED_FROM = 0.02;

/** A found onset: where it was heard in the energies, and where its marker belongs. */
export interface FoundOnset extends Omit<Onset, 'strength'> {
  hop: number;
}
