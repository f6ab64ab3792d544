/**
 * Deals a pattern: a share of its steps, the reach, exchange what they play at random, or draw it; then there may be more
 * or fewer of them, and chance may colour. The same seed, settings and table give the same hand on every machine. One
 * file a rule, each with draws of its own, so that turning one changes nothing that another has drawn.
 */
import { DEAL_ROWS, DEAL_UNITS, type DealValues, type SparseDealValues } from '../../params/deal-rows.ts';
import { fullValues } from '../../params/row.ts';
import type { PatternEvent } from '../../document/schema.ts';
import { joinedAgain, madeBusy } from './busy.ts';
import { colourEvents } from './colours.ts';
import { drawNext, drawSounds, followersIn, type DrawNext } from './draw.ts';
import { exchangeSounds, exchangeStretches } from './exchange.ts';
import { BARE_TABLE, isFreeStep, soundOf, type DealSettings, type DealTable } from './table.ts';

/** Grows when the same seed gives another hand: 2 draws all orders alike. */
export const DEALER_VERSION = 2;

/**
 * @param events in order of position; those that hold keep what they play
 * @param sparse what stays and what colours; nothing where it is left out
 * @returns the dealt events, in order of position
 */
export function dealEvents(
  events: readonly PatternEvent[],
  settings: DealSettings,
  sparse: SparseDealValues = {},
  table: DealTable = BARE_TABLE,
): PatternEvent[] {
  const rules = fullValues(DEAL_ROWS, sparse);
  const isFree = (event: PatternEvent) => isFreeStep(event, rules, table);
  const joined = rules.busyPercent === 0 ? events : joinedAgain(events, isFree, table.plainOf);
  const freeIds = new Set(joined.filter(isFree).map(({ id }) => id));
  const isFreeId = ({ id }: PatternEvent) => freeIds.has(id);
  const next = drawNext(table, followersOf(rules, table), rules.keepsRoles);
  const ordered = inOrder(joined, settings, rules, table, isFreeId, next);
  const busy = rules.busyPercent === 0 ? ordered : madeBusy(ordered, settings.seed, rules.busyPercent, isFreeId, next);
  const known = new Set(joined.map(({ id }) => id));
  for (const { id } of busy) if (!known.has(id)) freeIds.add(id);
  return colourEvents(busy, settings.seed, rules, isFreeId, table.plainOf);
}

function followersOf({ sounds }: DealValues, { learnFrom }: DealTable) {
  return sounds === 'home' || sounds === 'starred' ? followersIn(learnFrom[sounds]) : null;
}

/** A new order of what there is, or of what may be drawn. */
function inOrder(
  events: readonly PatternEvent[],
  settings: DealSettings,
  rules: DealValues,
  table: DealTable,
  isFree: (event: PatternEvent) => boolean,
  next: DrawNext,
): PatternEvent[] {
  const free = events.flatMap((event, place) => (isFree(event) ? [place] : []));
  if (rules.sounds !== 'exchanged') return drawSounds(events, free, settings, next);
  const roleOf = rules.keepsRoles ? (zoneId: string) => soundOf(table, zoneId)?.role ?? '' : null;
  if (rules.unit === 'strip') return exchangeSounds(events, free, settings, roleOf);
  return exchangeStretches(events, isFree, settings, {
    unitTicks: DEAL_UNITS[rules.unit](table),
    lengthTicks: table.lengthTicks,
    keepsFeel: rules.keepsFeel,
    roleOf,
  });
}
