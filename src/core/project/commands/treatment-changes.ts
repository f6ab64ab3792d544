/** Where patterns of a part put its treatments on: laid, moved, taken off. */
import { MAX_TICKS, MOST_TREATMENT_CHANGES } from '../../document/limits.ts';
import { partIdOfPattern } from '../../document/pattern-part.ts';
import type { Part, ProjectDocument, TreatmentChange } from '../../document/schema.ts';
import { patternLengthTicks } from '../../queries/patterns.ts';
import { find, refused, withPart, type Command, type CommandResult } from './command.ts';
import { treatmentOf } from './treatments.ts';

const GONE = 'there is no change of treatment any more';

/** Those over a pattern, in order. */
export function changesOver({ treatmentChanges }: Pick<Part, 'treatmentChanges'>, patternId: string) {
  return treatmentChanges?.[patternId] ?? NONE;
}
const NONE: readonly TreatmentChange[] = [];

function withChanges(
  document: ProjectDocument,
  patternId: string,
  change: (list: readonly TreatmentChange[]) => readonly TreatmentChange[],
): CommandResult {
  const partId = partIdOfPattern(document, patternId);
  if (partId === null) return refused('this pattern is gone');
  return withPart(document, partId, ({ treatmentChanges, ...part }) => {
    const list = [...change(treatmentChanges?.[patternId] ?? NONE)].sort((a, b) => a.at - b.at);
    const { [patternId]: _, ...others } = treatmentChanges ?? {};
    const left = list.length > 0 ? { ...others, [patternId]: list } : others;
    return Object.keys(left).length > 0 ? { ...part, treatmentChanges: left } : part;
  });
}

/** From a position of a pattern on its part sounds as a treatment, or, with null, as it does by itself. */
export const layTreatmentChange: Command<{ patternId: string; at: number; treatmentId: string | null }> = (
  document,
  { patternId, at, treatmentId },
) => {
  const part = find(document.parts, partIdOfPattern(document, patternId) ?? '');
  if (!part) return refused('this pattern is gone');
  if (treatmentId !== null && !treatmentOf(part, treatmentId)) return refused('this treatment is gone');
  if (!(at >= 0 && at < Math.min(MAX_TICKS, patternLengthTicks(document, patternId))))
    return refused('that is outside of the pattern');
  const others = changesOver(part, patternId).filter((one) => one.at !== at);
  if (others.length >= MOST_TREATMENT_CHANGES)
    return refused(`a pattern changes the treatment ${MOST_TREATMENT_CHANGES} times at most`);
  return withChanges(document, patternId, () => [...others, { at, ...(treatmentId === null ? {} : { treatmentId }) }]);
};

/** Moves a change to another position; what lay there gives way. */
export const moveTreatmentChange: Command<{ patternId: string; at: number; to: number }> = (
  document,
  { patternId, at, to },
) => {
  const part = find(document.parts, partIdOfPattern(document, patternId) ?? '');
  const moved = part && changesOver(part, patternId).find((one) => one.at === at);
  if (!moved) return refused(GONE);
  if (!(to >= 0 && to < patternLengthTicks(document, patternId))) return refused('that is outside of the pattern');
  return withChanges(document, patternId, (list) => [
    ...list.filter((one) => one.at !== at && one.at !== to),
    { ...moved, at: to },
  ]);
};

export const removeTreatmentChange: Command<{ patternId: string; at: number }> = (document, { patternId, at }) => {
  const part = find(document.parts, partIdOfPattern(document, patternId) ?? '');
  if (!part || !changesOver(part, patternId).some((one) => one.at === at)) return refused(GONE);
  return withChanges(document, patternId, (list) => list.filter((one) => one.at !== at));
};
