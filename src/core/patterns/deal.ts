/**
 * Deals a pattern: a share of its steps, the reach, exchange what they play at random. Places, lengths and accents stay,
 * so the rhythm holds while the words change; then chance may colour. The same seed, settings and events give the same
 * hand on every machine.
 */
import { DEAL_ROWS, type DealValues, type SparseDealValues } from '../params/deal-rows.ts';
import { fullValues } from '../params/row.ts';
import type { PatternEvent } from '../project/schema.ts';
import { seededRandom, shuffled, type Random } from '../units/random.ts';
import { colourEvents } from './deal-colours.ts';

/** Grows when the same seed gives another hand. */
export const DEALER_VERSION = 1;

export interface DealSettings {
  seed: number;
  /** Share of the free steps that take part, 0..100. */
  reachPercent: number;
}

/** What a deal knows of the pattern beside its events. */
export interface DealTable {
  /** Role of what a zone plays. */
  roleOf: (zoneId: string) => string | undefined;
  barTicks: number;
  /** What is counted: as long as the first beat of a bar lasts. */
  beatTicks: number;
  /** An event before dealing; undefined for one that came later. */
  plainOf: (id: string) => PatternEvent | undefined;
}

const BARE_TABLE: DealTable = { roleOf: () => undefined, barTicks: 3840, beatTicks: 960, plainOf: () => undefined };
/** Sooner than this before a bar line a step is on it: a loop's own feel is a little early or late. */
const EARLY_TICKS = 60;

/** Does an event take part under these rules? */
export function isFreeStep(
  { zoneId, positionTicks, values }: PatternEvent,
  rules: DealValues,
  table: DealTable,
): boolean {
  if (values.hold) return false;
  const role = table.roleOf(zoneId);
  if ((rules.keepsKicks && role === 'kick') || (rules.keepsSnares && role === 'snare')) return false;
  const inBar = (positionTicks + EARLY_TICKS) % table.barTicks;
  return !(rules.keepsFirstBeats && inBar < table.beatTicks);
}

/**
 * @param events in order of position; those that hold keep what they play
 * @param sparse what stays and what colours; nothing where it is left out
 * @returns the same events with their zones exchanged, and coloured; none is dealt its own where that can be helped
 */
export function dealEvents(
  events: readonly PatternEvent[],
  settings: DealSettings,
  sparse: SparseDealValues = {},
  table: DealTable = BARE_TABLE,
): PatternEvent[] {
  const rules = fullValues(DEAL_ROWS, sparse);
  const free = events.flatMap((event, index) => (isFreeStep(event, rules, table) ? [index] : []));
  const exchanged = exchange(events, free, settings, rules.keepsRoles ? table.roleOf : null);
  const isFree = new Set(free.map((index) => events[index]!.id));
  return colourEvents(exchanged, settings.seed, rules, ({ id }) => isFree.has(id), table.plainOf);
}

/** Lets a share of the free steps exchange what they play; with roles, only among steps of one role. */
function exchange(
  events: readonly PatternEvent[],
  free: readonly number[],
  { seed, reachPercent }: DealSettings,
  roleOf: DealTable['roleOf'] | null,
): PatternEvent[] {
  const random = seededRandom(seed);
  const wanted = reachPercent <= 0 ? 0 : Math.max(2, Math.round((free.length * reachPercent) / 100));
  const chosen = shuffled(free, random)
    .slice(0, wanted)
    .sort((a, b) => a - b);
  const groups = new Map<string, number[]>();
  for (const index of chosen) {
    const name = roleOf?.(events[index]!.zoneId) ?? '';
    groups.set(name, [...(groups.get(name) ?? []), index]);
  }
  const out = [...events];
  for (const group of groups.values()) exchangeAmong(events, group, random, out);
  return out;
}

function exchangeAmong(
  events: readonly PatternEvent[],
  chosen: readonly number[],
  random: Random,
  out: PatternEvent[],
): void {
  if (chosen.length < 2) return;
  const dealt = shuffled(
    chosen.map((index) => events[index]!.zoneId),
    random,
  );
  // A step that drew its own slice exchanges with the first step for which that helps both.
  for (let at = 0; at < chosen.length; at++) {
    const own = events[chosen[at]!]!.zoneId;
    if (dealt[at] !== own) continue;
    const other = dealt.findIndex((zoneId, to) => zoneId !== own && events[chosen[to]!]!.zoneId !== own);
    if (other >= 0) [dealt[at], dealt[other]] = [dealt[other]!, dealt[at]!];
  }
  chosen.forEach((index, at) => {
    out[index] = { ...events[index]!, zoneId: dealt[at]! };
  });
}
