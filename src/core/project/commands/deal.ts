/**
 * Dealing: random variations that can be told from their seed and never get lost. What is dealt is what lies on the
 * table; held steps stay, and so does what waits beyond the pattern's end.
 */
import { DEAL_ROWS, type SparseDealValues } from '../../params/deal-rows.ts';
import { fullValues } from '../../params/row.ts';
import { DEALER_VERSION, dealEvents, isFreeStep, type DealTable } from '../../patterns/deal.ts';
import { eventsOfHand, orderedEvents } from '../../queries/patterns.ts';
import { songValues } from '../../queries/values.ts';
import { zonesOfPart } from '../../queries/zones.ts';
import { countedBeatTicks, TICKS_PER_BEAT } from '../../units/time.ts';
import { isSameJson } from '../diff.ts';
import { isHome, type Hand, type Part, type Pattern, type PatternEvent, type ProjectDocument } from '../schema.ts';
import { done, find, refused, withPattern, type Command } from './command.ts';
import { copyPattern } from './patterns.ts';

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
}

/** Deals the pattern that the part plays; a home pattern is copied first. What lay on the table stays as a hand. */
export const deal: Command<DealArgs> = (document, { partId, reachPercent, rules = {}, seed, fromHandId }, env) => {
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
  const told = Object.keys(rules).length > 0 ? { ...settings, rules } : settings;
  const dealTable = tableOf(current, part, pattern);
  const full = fullValues(DEAL_ROWS, rules);
  if (!dealable.some((event) => isFreeStep(event, full, dealTable))) {
    return refused('these rules let every step stay: let some of them take part');
  }
  const events = { ...table };
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

function tableOf(document: ProjectDocument, part: Part, { ground }: Pattern): DealTable {
  const roles = new Map(zonesOfPart(document, part).map(({ zone, at }) => [zone.id, at.slice.role]));
  const { beatsPerBar } = songValues(document);
  return {
    roleOf: (zoneId) => roles.get(zoneId),
    barTicks: beatsPerBar * TICKS_PER_BEAT,
    beatTicks: countedBeatTicks(beatsPerBar),
    plainOf: (id) => (ground ? find(ground, id) : undefined),
  };
}

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
