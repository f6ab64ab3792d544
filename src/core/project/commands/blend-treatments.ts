/** A dial from one treatment of a part to another; over a pattern it is moved by a lane: in steps, or in time. */
import { lanePoint } from '../../lanes/points.ts';
import { blendOf } from '../../queries/blends.ts';
import { macrosOf, routesFrom } from '../../queries/macros.ts';
import { patternLengthTicks } from '../../queries/patterns.ts';
import type { Part, ProjectDocument, Treatment } from '../../document/schema.ts';
import { done, find, refused, type Command } from './command.ts';
import { addLane } from './lanes.ts';
import { nameMacro, putOnMacro } from './macros.ts';
import { treatmentOf } from './treatments.ts';

/** A dial that leads to more is no dial any more. */
const MOST_STEPS = 400;

/**
 * The first treatment is put on; from there a new dial leads to the second. Where that is put on as such, the dial rests.
 * @param place where the dial stands, a free one
 * @param patternId a lane over this pattern moves the dial: the first half as the one, the second as the other
 */
export const blendTreatments: Command<{
  partId: string;
  fromId: string;
  toId: string;
  place: number;
  patternId?: string;
}> = (document, { partId, fromId, toId, place, patternId }, env) => {
  const part = find(document.parts, partId);
  const [from, to] = [treatmentOf(part, fromId), treatmentOf(part, toId)];
  if (!part || !from || !to) return refused('this treatment is gone');
  if (macrosOf(document).some((dial) => dial.place === place)) return refused('there is a dial at this place already');
  const { document: first, steps } = blendOf(document, part, from, to);
  if (steps.length === 0) return refused(`nothing that can be moved differs between “${from.name}” and “${to.name}”`);
  if (steps.length > MOST_STEPS)
    return refused(`they differ in ${steps.length} settings: a dial moves ${MOST_STEPS} at most`);
  let current = first;
  for (const step of steps) {
    const put = putOnMacro(current, { ...step, place }, env);
    if (!put.ok) return put;
    current = put.document;
  }
  const dial = macrosOf(current).find((one) => one.place === place)!;
  const named = nameMacro(current, { macroId: dial.id, name: `${from.name} – ${to.name}` }, env);
  if (!named.ok) return named;
  const kept = withDialKept(named.document, part, dial.id, { from, to });
  if (patternId === undefined) return done(kept);
  const half = patternLengthTicks(kept, patternId) / 2;
  const points = [lanePoint(0, 0, { stays: true }), lanePoint(half, 1, { stays: true })];
  const target = { kind: 'modulator', id: dial.id } as const;
  return addLane(kept, { overId: patternId, target, paramId: 'position', points }, env);
};

/** The first treatment knows of the dial; the second is where it leads, and moved no further. */
function withDialKept(
  document: ProjectDocument,
  { id }: Part,
  dialId: string,
  { from, to }: Record<'from' | 'to', Treatment>,
): ProjectDocument {
  const part = document.parts[id]!;
  const routes = routesFrom(document, dialId);
  const withRoutes = (
    one: Treatment,
    values: (route: (typeof routes)[number]) => (typeof route)['values'],
  ): Treatment =>
    one.routes
      ? { ...one, routes: { ...one.routes, ...Object.fromEntries(routes.map((r) => [r.id, values(r)])) } }
      : one;
  const treatments = part.treatments!.map((one) => {
    if (one.id === from.id) return withRoutes(one, ({ values }) => values);
    return one.id === to.id ? withRoutes(one, () => ({})) : one;
  });
  return { ...document, parts: { ...document.parts, [id]: { ...part, treatments } } };
}
