/** Ways to sound of a part: kept, put on, named and given up. */
import { withKnownTreatments } from '../../document/references.ts';
import { soundOfPart, withTreatment } from '../../queries/treatments.ts';
import type { Part, ProjectDocument, Treatment } from '../../document/schema.ts';
import { done, find, refused, withPart, type Command, type CommandResult } from './command.ts';
import { withoutSwitches } from './switches.ts';

const MOST_TREATMENTS = 64;
const GONE = 'this treatment is gone';

export function treatmentOf(part: Part | undefined, treatmentId: string): Treatment | undefined {
  return part?.treatments?.find(({ id }) => id === treatmentId);
}

/** The first of "treatment 1", "treatment 2" … that no treatment of the part is called by. */
function freeName({ treatments = [] }: Part): string {
  const names = new Set(treatments.map(({ name }) => name));
  for (let number = 1; ; number++) if (!names.has(`treatment ${number}`)) return `treatment ${number}`;
}

/** Keeps how a part sounds now: as a new treatment, or in place of one. */
export const keepTreatment: Command<{ partId: string; treatmentId?: string; name?: string }> = (
  document,
  { partId, treatmentId, name },
  env,
) => {
  const part = find(document.parts, partId);
  if (!part) return refused('this part is gone');
  const { treatments = [] } = part;
  const sound = soundOfPart(document, part);
  if (treatmentId !== undefined) {
    if (!treatmentOf(part, treatmentId)) return refused(GONE);
    return withTreatments(document, partId, (list) =>
      list.map((one) => (one.id === treatmentId ? { ...one, ...sound } : one)),
    );
  }
  if (treatments.length >= MOST_TREATMENTS) {
    return refused(`a part keeps ${MOST_TREATMENTS} treatments at most: give one up first`);
  }
  const kept = { id: env.newId(), name: name?.trim().slice(0, 200) || freeName(part), ...sound };
  return withTreatments(document, partId, (list) => [...list, kept]);
};

/** Lets the part sound as one of its treatments says. */
export const putTreatmentOn: Command<{ partId: string; treatmentId: string }> = (document, { partId, treatmentId }) => {
  const part = find(document.parts, partId);
  const treatment = treatmentOf(part, treatmentId);
  return part && treatment ? done(withTreatment(document, part, treatment)) : refused(GONE);
};

export const renameTreatment: Command<{ partId: string; treatmentId: string; name: string }> = (
  document,
  { partId, treatmentId, name },
) => {
  const trimmed = name.trim().slice(0, 200);
  if (!trimmed) return refused('a treatment needs a name');
  if (!treatmentOf(document.parts[partId], treatmentId)) return refused(GONE);
  return withTreatments(document, partId, (list) =>
    list.map((one) => (one.id === treatmentId ? { ...one, name: trimmed } : one)),
  );
};

/** Gives a treatment up, with the keys, the patterns and the places in the running order that put it on. The part sounds on as it does. */
export const removeTreatment: Command<{ partId: string; treatmentId: string }> = (
  document,
  { partId, treatmentId },
) => {
  if (!treatmentOf(document.parts[partId], treatmentId)) return refused(GONE);
  const left = withTreatments(document, partId, (list) => list.filter(({ id }) => id !== treatmentId));
  return left.ok ? done(withKnownTreatments(left.document)) : left;
};

function withTreatments(
  document: ProjectDocument,
  partId: string,
  change: (list: readonly Treatment[]) => Treatment[],
): CommandResult {
  return withPart(document, partId, ({ treatments: before = [], ...part }) => {
    const treatments = change(before);
    const there = new Set(treatments.map(({ id }) => id));
    const rest = withoutSwitches(part, (one) => one.treatmentId !== undefined && !there.has(one.treatmentId));
    return treatments.length > 0 ? { ...rest, treatments } : rest;
  });
}
