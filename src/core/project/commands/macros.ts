/** The dials of a project: what is put on them, and over which range they move it. */
import { MAX_AMOUNT, ROUTE_ROWS, SONG_OWNER } from '../../params/modulators.ts';
import { fitsRow, withValues } from '../../params/row.ts';
import { MAX_MACROS } from '../../document/limits.ts';
import type { Modulator, ProjectDocument, Route, RouteTarget } from '../../document/schema.ts';
import { macrosOf } from '../../queries/macros.ts';
import { done, find, refused, type Command, type CommandResult } from './command.ts';
import { routeTo, setRoute } from './modulators.ts';

/** A setting, by whose it is and which. */
export interface Setting {
  target: RouteTarget;
  paramId: string;
}

const LONGEST_NAME = 200;

/**
 * Puts a setting on the dial at a place, which comes into being with it. From what the setting is set to, the dial moves
 * it up by the whole of what it is moved by.
 * @param amount otherwise; below 0 down
 */
export const putOnMacro: Command<Setting & { place: number; amount?: number }> = (document, args, env) => {
  const { place, target, paramId, amount = 1 } = args;
  if (!Number.isInteger(place) || place < 0 || place >= MAX_MACROS)
    return refused(`there are ${MAX_MACROS} dials at most`);
  const known = macrosOf(document).find((one) => one.place === place);
  const id = known?.id ?? env.newId();
  const made: Modulator = { id, ownerId: SONG_OWNER, kind: 'macro', values: {}, name: `dial ${place + 1}`, place };
  const withDial = known ? document : { ...document, modulators: { ...document.modulators, [id]: made } };
  if (routeTo(document, id, { target, paramId })) return refused('this dial moves it already');
  return setRoute(withDial, { modulatorId: id, target, paramId, amount }, env);
};

export const nameMacro: Command<{ macroId: string; name: string }> = (document, { macroId, name }) => {
  const macro = find(document.modulators, macroId);
  const named = name.trim().slice(0, LONGEST_NAME);
  if (macro?.kind !== 'macro') return refused('this dial is gone');
  if (named === '') return refused('a dial has a name');
  return done({ ...document, modulators: { ...document.modulators, [macroId]: { ...macro, name: named } } });
};

/**
 * How far a route moves its setting where its source is at 0 and where it is at 1, in shares of what the setting is moved
 * by: a dial from 0 to -0.5, a lane between -1 and 0.
 */
export const setRange: Command<{ routeId: string; from: number; to: number }> = (document, { routeId, from, to }) => {
  const route = find(document.routes, routeId);
  if (!route) return refused('this is moved no more');
  const amount = to - from;
  if (!fitsRow(ROUTE_ROWS.offset, from) || !fitsRow(ROUTE_ROWS.amount, amount)) {
    return refused(`a range begins and ends no further than ${MAX_AMOUNT} times what the setting is moved by`);
  }
  return withRoute(document, { ...route, values: withValues(ROUTE_ROWS, route.values, { offset: from, amount }) });
};

function withRoute(document: ProjectDocument, route: Route): CommandResult {
  return done({ ...document, routes: { ...document.routes, [route.id]: route } });
}
