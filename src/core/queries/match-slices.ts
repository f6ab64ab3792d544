/** Which slice of another loop takes the place of which of this one. */
import type { Role } from '../analysis/role-names.ts';
import type { Slice } from '../document/schema.ts';

type Heard = Pick<Slice, 'role' | 'startFrame'>;

export interface SliceMatch {
  /** Place of the new slice for each old one, both in their order. */
  places: readonly number[];
  /** By what each was found: its role, or its place alone. */
  byRole: readonly boolean[];
}

/** With fewer that have their like than this, slices are matched by their places: a melody, or roles that say nothing. */
const LEAST_ALIKE = 0.5;

/**
 * Matches slices by role: the third snare is the third snare, and where there are fewer it begins again with the first;
 * what has no like takes the place in order that is as far on in the loop.
 * @param before @param after in the order of their starts, one at least
 */
export function matchSlices(before: readonly Heard[], after: readonly Heard[]): SliceMatch {
  const ofRole = new Map<Role, number[]>();
  after.forEach(({ role }, place) => ofRole.set(role, [...(ofRole.get(role) ?? []), place]));
  const alike = before.filter(({ role }) => ofRole.has(role)).length;
  const goesByRole = alike >= LEAST_ALIKE * before.length;
  const counted = new Map<Role, number>();
  const byRole: boolean[] = [];
  const places = before.map(({ role }, place) => {
    const nth = counted.get(role) ?? 0;
    counted.set(role, nth + 1);
    const like = goesByRole ? ofRole.get(role) : undefined;
    byRole.push(like !== undefined);
    if (like) return like[nth % like.length]!;
    return before.length === after.length
      ? place
      : Math.min(after.length - 1, Math.round((place * (after.length - 1)) / Math.max(1, before.length - 1)));
  });
  return { places, byRole };
}
