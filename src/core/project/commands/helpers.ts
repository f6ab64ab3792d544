/** What stands on the way to the keys of a part: put in, moved, switched, drawn, taken out. */
import { OWN_CHORD } from '../../params/chords.ts';
import {
  HELPER_ROWS,
  LEAST_STEPS,
  MOST_HELPERS,
  MOST_NOTES,
  MOST_STEPS,
  WIDEST_INTERVAL,
  type HelperKind,
} from '../../params/helpers.ts';
import { withValues } from '../../params/row.ts';
import { withoutDangling } from '../../document/references.ts';
import type { Helper, ProjectDocument } from '../../document/schema.ts';
import { intervalsOf } from '../../queries/helpers.ts';
import { done, find, refused, type Command, type CommandResult } from './command.ts';

const GONE = 'this helper is gone';

function withHelper(document: ProjectDocument, id: string, change: (helper: Helper) => Helper): CommandResult {
  const helper = find(document.helpers, id);
  if (!helper) return refused(GONE);
  return done({ ...document, helpers: { ...document.helpers, [id]: change(helper) } });
}

function withOrder(document: ProjectDocument, partId: string, helperOrder: string[]): ProjectDocument {
  return { ...document, parts: { ...document.parts, [partId]: { ...document.parts[partId]!, helperOrder } } };
}

/** Puts a helper onto the way to the keys of a part; without a place where it stands best: chords, then runners, echoes last. */
export const addHelper: Command<{ partId: string; kind: HelperKind; place?: number }> = (
  document,
  { partId, kind, place },
  env,
) => {
  const part = find(document.parts, partId);
  if (!part) return refused('this part is gone');
  const { helperOrder } = part;
  if (helperOrder.length >= MOST_HELPERS)
    return refused(`${MOST_HELPERS} helpers are the most on one way: take one out first`);
  const helper: Helper = { id: env.newId(), partId, kind, bypassed: false, values: {} };
  const at = place ?? placeOfKind(document, helperOrder, kind);
  const withIt = { ...document, helpers: { ...document.helpers, [helper.id]: helper } };
  return done(withOrder(withIt, partId, helperOrder.toSpliced(at, 0, helper.id)));
};

function placeOfKind({ helpers }: ProjectDocument, order: readonly string[], kind: HelperKind): number {
  const rank = (one: HelperKind) => Object.keys(HELPER_ROWS).indexOf(one);
  return order.findLastIndex((id) => rank(helpers[id]!.kind) <= rank(kind)) + 1;
}

/** Puts a helper once more behind itself. */
export const copyHelper: Command<{ helperId: string }> = (document, { helperId }, env) => {
  const helper = find(document.helpers, helperId);
  if (!helper) return refused(GONE);
  const { helperOrder } = document.parts[helper.partId]!;
  if (helperOrder.length >= MOST_HELPERS)
    return refused(`${MOST_HELPERS} helpers are the most on one way: take one out first`);
  const id = env.newId();
  const withIt = { ...document, helpers: { ...document.helpers, [id]: { ...helper, id } } };
  return done(withOrder(withIt, helper.partId, helperOrder.toSpliced(helperOrder.indexOf(helperId) + 1, 0, id)));
};

/** Moves a helper to a place on its way, as that is without it. */
export const moveHelper: Command<{ helperId: string; place: number }> = (document, { helperId, place }) => {
  const helper = find(document.helpers, helperId);
  if (!helper) return refused(GONE);
  const rest = document.parts[helper.partId]!.helperOrder.filter((id) => id !== helperId);
  if (!(place >= 0 && place <= rest.length)) return refused('there is no such place on the way');
  return done(withOrder(document, helper.partId, rest.toSpliced(place, 0, helperId)));
};

export const removeHelper: Command<{ helperId: string }> = (document, { helperId }) => {
  const helper = find(document.helpers, helperId);
  if (!helper) return refused('this helper is gone already');
  const { [helperId]: _gone, ...helpers } = document.helpers;
  const rest = document.parts[helper.partId]!.helperOrder.filter((id) => id !== helperId);
  return done(withoutDangling(withOrder({ ...document, helpers }, helper.partId, rest)));
};

export const bypassHelper: Command<{ helperId: string; bypassed: boolean }> = (document, { helperId, bypassed }) =>
  withHelper(document, helperId, (helper) => ({ ...helper, bypassed }));

/** Back to how a new one is. */
export const resetHelper: Command<{ helperId: string }> = (document, { helperId }) =>
  withHelper(document, helperId, ({ id, partId, kind, bypassed }) => ({ id, partId, kind, bypassed, values: {} }));

/** Draws the strengths of a runner's steps, or of a chord's notes; each is brought into 0..1. */
export const drawStrengths: Command<{ helperId: string; strengths: readonly number[] }> = (
  document,
  { helperId, strengths },
) => {
  const helper = find(document.helpers, helperId);
  if (!helper) return refused(GONE);
  const { kind } = helper;
  const [least, most] = kind === 'chord' ? [1, MOST_NOTES] : [LEAST_STEPS, MOST_STEPS];
  if (kind === 'echoes') return refused('echoes fall by themselves: their strengths are not drawn');
  if (!(strengths.length >= least && strengths.length <= most)) return refused(`there are ${least} to ${most} of them`);
  const within = (value: number) => (value >= 0 ? Math.min(1, value) : 0);
  const drawn = { ...helper, strengths: strengths.map(within) };
  // What is drawn is what counts.
  if (kind === 'runner') drawn.values = withValues(HELPER_ROWS.runner, helper.values, { strength: 'drawn' });
  return done({ ...document, helpers: { ...document.helpers, [helperId]: drawn } });
};

/** Puts a note into a chord of its own, or takes it out; a named chord becomes one's own by it. */
export const toggleInterval: Command<{ helperId: string; semitones: number }> = (document, { helperId, semitones }) => {
  const helper = find(document.helpers, helperId);
  if (!helper || helper.kind !== 'chord') return refused('this chord is gone');
  if (!Number.isInteger(semitones) || Math.abs(semitones) > WIDEST_INTERVAL)
    return refused(`a chord reaches ${WIDEST_INTERVAL} semitones at most`);
  const before = intervalsOf(helper);
  const isIn = before.includes(semitones);
  const intervals = isIn ? before.filter((one) => one !== semitones) : [...before, semitones].sort((a, b) => a - b);
  if (intervals.length === 0) return refused('a chord keeps one note: switch it off instead');
  if (intervals.length > MOST_NOTES) return refused(`a chord has ${MOST_NOTES} notes at most: take one out first`);
  const values = withValues(HELPER_ROWS.chord, helper.values, { chord: OWN_CHORD });
  return done({ ...document, helpers: { ...document.helpers, [helperId]: { ...helper, values, intervals } } });
};
