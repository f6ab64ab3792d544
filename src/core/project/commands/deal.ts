/**
 * Dealing: random variations that can be told from their seed and never get lost. What is dealt is what lies on the
 * table; held steps stay, and so does what waits beyond the pattern's end.
 */
import { DEAL_ROWS, type DealValues, type SparseDealValues } from '../../params/deal-rows.ts';
import { fullValues } from '../../params/row.ts';
import { isColoured } from '../../patterns/deal/colours.ts';
import { DEALER_VERSION, dealEvents } from '../../patterns/deal/deal.ts';
import { isFreeStep, type DealSound, type DealTable } from '../../patterns/deal/table.ts';
import { eventsOf, eventsOfHand, orderedEvents, patternLengthTicks, rememberHand } from '../../queries/patterns.ts';
import { songValues, zoneValues } from '../../queries/values.ts';
import { zonesOfPart, type PlacedZone } from '../../queries/zones.ts';
import { countedBeatTicks, TICKS_PER_BEAT } from '../../units/time.ts';
import { homeId, isHome } from '../../document/home-id.ts';
import type { Hand, Part, Pattern, PatternEvent, ProjectDocument } from '../../document/schema.ts';
import { done, find, refused, type Command, type CommandEnv } from './command.ts';
import { lendSounds, lentSound, soundsOfOthers } from './lend.ts';
import { differences, withHand, withTableKept } from './hands.ts';
import { copyPattern } from './patterns.ts';

export interface DealArgs {
  partId: string;
  reachPercent: number;
  /** What stays and what colours. */
  rules?: SparseDealValues;
  /** Given to repeat a certain deal; a new one otherwise. */
  seed?: number;
  /** The hand to deal from; what lies on the table otherwise. */
  fromHandId?: string;
  /** Only these take part: events of the pattern that the part plays; all where it is left out. */
  onlyIds?: readonly string[];
}

/** Deals the pattern that the part plays; a home pattern is copied first. What lay on the table stays as a hand. */
export const deal: Command<DealArgs> = (
  document,
  { partId, reachPercent, rules = {}, seed, fromHandId, onlyIds },
  env,
) => {
  const part = find(document.parts, partId);
  if (!part) return refused('this part is gone');
  let current: ProjectDocument = document;
  if (isHome(part.activePatternId)) {
    const copied = copyPattern(document, { partId, patternId: part.activePatternId }, env);
    if (!copied.ok) return copied;
    current = copied.document;
  }
  const patternId = current.parts[partId]!.activePatternId;
  const pattern = withTableKept(current.patterns[patternId]!, env.newId);
  const from = fromHandId !== undefined && find(pattern.hands, fromHandId) ? fromHandId : pattern.handId!;
  const table = eventsOfHand(pattern, from);
  const dealable = orderedEvents(table).filter((event) => event.positionTicks < pattern.lengthTicks);
  if (dealable.filter((event) => !event.values.hold).length < 2) {
    return refused('dealing needs at least two steps that are not held');
  }
  const settings = { seed: seed ?? env.newSeed(), reachPercent };
  const told = {
    ...settings,
    ...(Object.keys(rules).length > 0 ? { rules } : {}),
    ...(onlyIds ? { onlyIds: [...onlyIds] } : {}),
  };
  const full = fullValues(DEAL_ROWS, rules);
  const dealTable = tableOf(current, part, pattern, full, onlyIds);
  const noReason = reasonAgainst(dealable, full, dealTable);
  if (noReason) return refused(noReason);
  const dealt = dealEvents(dealable, settings, rules, dealTable);
  const lent = lendDealt(current, partId, dealt, env);
  if (!lent.ok) return lent;
  current = lent.document;
  const events: Pattern['events'] = {};
  for (const event of orderedEvents(table)) if (event.positionTicks >= pattern.lengthTicks) events[event.id] = event;
  for (const event of dealt) events[event.id] = ownSound(current, partId, event);
  const id = env.newId();
  const hand: Hand = {
    id,
    ...told,
    dealer: DEALER_VERSION,
    fromHandId: from,
    isEdited: false,
    differs: differences(pattern.ground!, events),
  };
  rememberHand(hand, pattern.ground, events);
  const onTable = { ...withHand(pattern, hand), events };
  return done({ ...current, patterns: { ...current.patterns, [patternId]: onTable } });
};

/** The steps of the pattern that a part plays which would take part in a deal by these rules, by their ids. */
export function freeSteps(
  document: ProjectDocument,
  { partId, rules = {}, onlyIds }: Pick<DealArgs, 'partId' | 'rules' | 'onlyIds'>,
): ReadonlySet<string> {
  const part = find(document.parts, partId);
  if (!part) return new Set();
  const patternId = part.activePatternId;
  const lengthTicks = patternLengthTicks(document, patternId);
  const pattern = find(document.patterns, patternId) ?? { ...UNDEALT, lengthTicks };
  const full = fullValues(DEAL_ROWS, rules);
  const table = tableOf(document, part, pattern, full, onlyIds);
  const free = eventsOf(document, patternId).filter((event) => isFreeStep(event, full, table));
  return new Set(free.map(({ id }) => id));
}

/** What a home pattern is to dealing. */
const UNDEALT: Dealt = { ground: null, hands: {}, handOrder: [], lengthTicks: 0 };

/** Why nothing can be dealt; null when something can. */
function reasonAgainst(events: readonly PatternEvent[], rules: DealValues, table: DealTable): string | null {
  const free = events.filter((event) => isFreeStep(event, rules, table));
  if (free.length === 0) return 'these rules let every step stay: let some of them take part';
  if (free.length === 1 && rules.sounds === 'exchanged' && !isColoured(rules)) {
    return 'one step alone has nothing to exchange with: let more take part, or let sounds be drawn';
  }
  if (rules.sounds !== 'exchanged' && table.sounds.every(({ weight }) => weight === 0)) {
    return 'every sound of this part is left out of dealing: give some of them weight';
  }
  if (rules.sounds === 'starred' && table.learnFrom.starred.length === 0) {
    return 'no hand of this pattern has a star yet: there is nothing to learn from';
  }
  return null;
}

/** Sounds of other parts that were drawn are lent to this one. */
function lendDealt(document: ProjectDocument, partId: string, events: readonly PatternEvent[], env: CommandEnv) {
  const used = new Set(events.map(({ zoneId }) => zoneId));
  const wanted = soundsOfOthers(document, partId).filter(({ zone }) => used.has(zone.id));
  return lendSounds(document, partId, wanted, env);
}

/** An event that plays a sound of another part plays what was lent of it. */
function ownSound(document: ProjectDocument, partId: string, event: PatternEvent): PatternEvent {
  if (document.zones[event.zoneId]!.partId === partId) return event;
  const other = soundsOfOthers(document, partId).find(({ zone }) => zone.id === event.zoneId)!;
  return { ...event, zoneId: lentSound(document, document.parts[partId]!, other)! };
}

/** Sounds that may be dealt. One that was lent before stands where it stands in its own part, so that seeds stay. */
function soundsToDeal(document: ProjectDocument, part: Part, admitsOthers: boolean): DealSound[] {
  const sound = ({ zone, at }: PlacedZone): DealSound => ({
    zoneId: zone.id,
    role: at.slice.role,
    weight: zoneValues(zone).dealWeight,
  });
  const own = zonesOfPart(document, part).filter(({ zone }) => zone.plays.kind === 'slice');
  if (!admitsOthers) return own.map(sound);
  const others = soundsOfOthers(document, part.id).map((other) => {
    const lent = lentSound(document, part, other);
    return own.find(({ zone }) => zone.id === lent) ?? other;
  });
  const lentIds = new Set(others.map(({ zone }) => zone.id));
  return [...own.filter(({ zone }) => !lentIds.has(zone.id)), ...others].map(sound);
}

type Dealt = Pick<Pattern, 'ground' | 'hands' | 'handOrder' | 'lengthTicks'>;

function tableOf(
  document: ProjectDocument,
  part: Part,
  pattern: Dealt,
  rules: DealValues,
  onlyIds?: readonly string[],
): DealTable {
  const { ground, hands, lengthTicks } = pattern;
  const { beatsPerBar } = songValues(document);
  const sounds = soundsToDeal(document, part, rules.admitsOthers && rules.sounds === 'any');
  const orderOf = (events: readonly PatternEvent[]) => events.map(({ zoneId }) => zoneId);
  const starred = pattern.handOrder.filter((id) => hands[id]!.starred);
  return {
    sounds,
    lengthTicks,
    barTicks: beatsPerBar * TICKS_PER_BEAT,
    beatTicks: countedBeatTicks(beatsPerBar),
    plainOf: (id) => (ground ? find(ground, id) : undefined),
    onlyIds: onlyIds ? new Set(onlyIds) : null,
    learnFrom: {
      home: part.cutOrder.map((cutId) => orderOf(eventsOf(document, homeId(cutId)))),
      starred: starred.map((id) => orderOf(orderedEvents(eventsOfHand(pattern, id)))),
    },
  };
}
