/**
 * Dealing: random variations that can be told from their seed and never get lost. What is dealt is what lies on the
 * table; held steps stay, and so does what waits beyond the pattern's end.
 */
import { DEAL_ROWS, type DealValues, type SparseDealValues } from '../../params/deal-rows.ts';
import { fullValues } from '../../params/row.ts';
import { breedEvents } from '../../patterns/deal/breed.ts';
import { isColoured } from '../../patterns/deal/colours.ts';
import { DEALER_VERSION, dealEvents } from '../../patterns/deal/deal.ts';
import { isFreeStep, type DealTable } from '../../patterns/deal/table.ts';
import { eventsOf, eventsOfHand, orderedEvents } from '../../queries/patterns.ts';
import { songValues, zoneValues } from '../../queries/values.ts';
import { zonesOfPart } from '../../queries/zones.ts';
import { countedBeatTicks, TICKS_PER_BEAT } from '../../units/time.ts';
import { isSameJson } from '../diff.ts';
import {
  homeId,
  isHome,
  type Hand,
  type Part,
  type Pattern,
  type PatternEvent,
  type ProjectDocument,
} from '../schema.ts';
import { done, find, refused, withPattern, type Command } from './command.ts';
import { copyPattern, layPattern } from './patterns.ts';

/** Hands kept for a pattern; the oldest goes when there are more. */
export const MAX_HANDS = 256;

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
  const dealTable = tableOf(current, part, pattern, onlyIds);
  const full = fullValues(DEAL_ROWS, rules);
  const noReason = reasonAgainst(dealable, full, dealTable);
  if (noReason) return refused(noReason);
  const events = { ...table };
  for (const { id } of dealable) delete events[id];
  for (const event of dealEvents(dealable, settings, rules, dealTable)) events[event.id] = event;
  const id = env.newId();
  const hand: Hand = {
    id,
    ...told,
    dealer: DEALER_VERSION,
    fromHandId: from,
    isEdited: false,
    differs: differences(pattern.ground!, events),
  };
  const dealt = { ...withHand(pattern, hand), events };
  return done({ ...current, patterns: { ...current.patterns, [patternId]: dealt } });
};

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

function tableOf(document: ProjectDocument, part: Part, pattern: Pattern, onlyIds?: readonly string[]): DealTable {
  const { ground, hands, lengthTicks } = pattern;
  const { beatsPerBar } = songValues(document);
  const sounds = zonesOfPart(document, part)
    .filter(({ zone }) => zone.plays.kind === 'slice')
    .map(({ zone, at }) => ({ zoneId: zone.id, role: at.slice.role, weight: zoneValues(zone).dealWeight }));
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

export interface BreedArgs {
  patternId: string;
  handId: string;
  otherId: string;
  /** How much of the other hand, 0..100; half where it is left out. */
  otherPercent?: number;
  seed?: number;
}

/** Makes a third hand of two and puts it on the table: each step is as in the one or the other. */
export const breedHands: Command<BreedArgs> = (
  document,
  { patternId, handId, otherId, otherPercent = 50, seed },
  env,
) => {
  if (handId === otherId) return refused('breeding needs two hands: choose another one');
  return withPattern(document, patternId, (found) => {
    const pattern = withTableKept(found, env.newId);
    if (!find(pattern.hands, handId) || !find(pattern.hands, otherId)) return null;
    const one = eventsOfHand(pattern, handId);
    const other = eventsOfHand(pattern, otherId);
    const told = { seed: seed ?? env.newSeed(), reachPercent: otherPercent };
    const steps = orderedEvents({ ...other, ...one }).map(({ id }) => id);
    const events = breedEvents(steps, one, other, told.seed, otherPercent);
    const hand: Hand = {
      id: env.newId(),
      ...told,
      dealer: DEALER_VERSION,
      fromHandId: handId,
      withHandId: otherId,
      isEdited: false,
      differs: differences(pattern.ground!, events),
    };
    return { ...withHand(pattern, hand), events };
  });
};

/** Gives a hand a name; an empty one takes it away. */
export const nameHand: Command<{ patternId: string; handId: string; name: string }> = (
  document,
  { patternId, handId, name },
) =>
  withPattern(document, patternId, (pattern) => {
    const hand = find(pattern.hands, handId);
    if (!hand) return null;
    const { name: _before, ...rest } = hand;
    const trimmed = name.trim().slice(0, 200);
    return { ...pattern, hands: { ...pattern.hands, [handId]: trimmed ? { ...rest, name: trimmed } : rest } };
  });

/** Makes a hand a pattern of its own, and puts that on. */
export const patternOfHand: Command<{ patternId: string; handId: string }> = (document, { patternId, handId }, env) => {
  const pattern = find(document.patterns, patternId);
  const hand = pattern && find(pattern.hands, handId);
  if (!hand) return refused('this hand is gone');
  const { partId, lengthTicks, name } = pattern;
  const onTable = pattern.handId === handId;
  const strips = orderedEvents(onTable ? pattern.events : eventsOfHand(pattern, handId)).map(
    ({ id: _id, ...strip }) => strip,
  );
  const number = pattern.handOrder.indexOf(handId) + 1;
  return layPattern(document, { partId, name: hand.name ?? `${name}, hand ${number}`, lengthTicks, strips }, env);
};

/** Puts another hand on the table. */
export const takeHand: Command<{ patternId: string; handId: string }> = (document, { patternId, handId }, env) =>
  withPattern(document, patternId, (found) => {
    const pattern = withTableKept(found, env.newId);
    if (!find(pattern.hands, handId)) return null;
    return { ...pattern, handId, events: eventsOfHand(pattern, handId) };
  });

/** Gives a hand a star, or takes it away: starred hands are never pushed out. */
export const starHand: Command<{ patternId: string; handId: string; starred: boolean }> = (
  document,
  { patternId, handId, starred },
) =>
  withPattern(document, patternId, (pattern) => {
    const hand = find(pattern.hands, handId);
    if (!hand) return null;
    const { starred: _before, ...rest } = hand;
    return { ...pattern, hands: { ...pattern.hands, [handId]: starred ? { ...rest, starred } : rest } };
  });

/**
 * Keeps what lies on the table as a hand. Before the first deal it becomes the ground and the first hand. Changes made
 * by hand stay in the hand that is on the table; when others were dealt from that one, they become a hand of their own.
 */
function withTableKept(pattern: Pattern, newId: () => string): Pattern {
  const { events, ground, handId } = pattern;
  const hand = handId === null ? undefined : find(pattern.hands, handId);
  const byHand = { seed: 0, reachPercent: 0, dealer: DEALER_VERSION, fromHandId: null, isEdited: true };
  if (!hand || !ground) {
    return withHand({ ...pattern, ground: events }, { id: newId(), ...byHand, isEdited: false, differs: {} });
  }
  const differs = differences(ground, events);
  if (isSameJson(differs, hand.differs)) return pattern;
  const isDealtFrom = Object.values(pattern.hands).some((other) => other.fromHandId === hand.id);
  if (isDealtFrom) return withHand(pattern, { id: newId(), ...byHand, fromHandId: hand.id, differs });
  return { ...pattern, hands: { ...pattern.hands, [hand.id]: { ...hand, isEdited: true, differs } } };
}

function withHand(pattern: Pattern, hand: Hand): Pattern {
  const handOrder = [...pattern.handOrder, hand.id];
  const hands = { ...pattern.hands, [hand.id]: hand };
  // The first hand is the pattern as it was: the oldest after it goes that has no star.
  const oldest = handOrder.findIndex((id, place) => place > 0 && !hands[id]!.starred);
  const [gone] = handOrder.length > MAX_HANDS ? handOrder.splice(Math.max(1, oldest), 1) : [];
  if (gone !== undefined) {
    delete hands[gone];
    for (const other of Object.values(hands)) {
      if (other.fromHandId === gone) hands[other.id] = { ...other, fromHandId: null };
      if (other.withHandId === gone) {
        const { withHandId: _gone, ...rest } = hands[other.id]!;
        hands[other.id] = rest;
      }
    }
  }
  return { ...pattern, hands, handOrder, handId: hand.id };
}

function differences(ground: Pattern['events'], events: Pattern['events']): Hand['differs'] {
  const out: Record<string, PatternEvent | null> = {};
  for (const [id, event] of Object.entries(events)) {
    if (ground[id] !== event && !isSameJson(ground[id], event)) out[id] = event;
  }
  for (const id of Object.keys(ground)) if (!Object.hasOwn(events, id)) out[id] = null;
  return out;
}
