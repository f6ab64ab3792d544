/** What stands on the way to the keys of a part. */
import { CHORDS, OWN_CHORD } from '../params/chords.ts';
import { HELPER_ROWS } from '../params/helpers.ts';
import type { Helper, Part, ProjectDocument } from '../document/schema.ts';

const ITSELF: readonly number[] = [0];

/** In the order in which notes pass. */
export function helpersOf({ helpers }: Pick<ProjectDocument, 'helpers'>, { helperOrder }: Part): Helper[] {
  return helperOrder.map((id) => helpers[id]!);
}

/** The semitones that a chord plays above the key that is pressed; the same list for the same record. */
export function intervalsOf({ values, intervals }: Pick<Helper, 'values' | 'intervals'>): readonly number[] {
  const name = values.chord ?? HELPER_ROWS.chord.chord.default;
  if (name === OWN_CHORD) return intervals ?? ITSELF;
  return CHORDS.find(({ value }) => value === name)!.intervals;
}
