/** Choosing many slices at once: pure questions about the slices of a cut. */
import type { PlacedSlice } from '../queries/slices.ts';

export type SelectionRule = 'all' | 'none' | 'invert' | 'same-role' | 'about-as-long' | 'slivers';

/** Lengths within this factor of each other are about the same. */
const ABOUT = 1.35;
/** Of the middle length: shorter than this is a sliver, that a cut by notes leaves between two of them. */
const SLIVER_SHARE = 0.15;

/** Ids that a rule chooses, in order, starting from those chosen now. */
export function selectByRule(
  placed: readonly PlacedSlice[],
  chosenIds: readonly string[],
  rule: SelectionRule,
): string[] {
  const chosen = placed.filter(({ slice }) => chosenIds.includes(slice.id));
  const keep = (holds: (at: PlacedSlice) => boolean) => placed.filter(holds).map(({ slice }) => slice.id);
  switch (rule) {
    case 'all':
      return keep(() => true);
    case 'none':
      return [];
    case 'invert':
      return keep(({ slice }) => !chosenIds.includes(slice.id));
    case 'same-role':
      return keep(({ slice }) => chosen.some((at) => at.slice.role === slice.role));
    case 'slivers': {
      const lengths = placed.map((at) => at.endFrame - at.startFrame).sort((a, b) => a - b);
      const middle = lengths[lengths.length >> 1] ?? 0;
      // The first has none before it to be joined to.
      return keep((at) => at.index > 0 && !at.slice.locked && at.endFrame - at.startFrame < SLIVER_SHARE * middle);
    }
    case 'about-as-long': {
      const lengthOf = (at: PlacedSlice) => at.endFrame - at.startFrame;
      return keep((at) =>
        chosen.some((other) => {
          const factor = lengthOf(at) / lengthOf(other);
          return factor < ABOUT && factor > 1 / ABOUT;
        }),
      );
    }
  }
}
