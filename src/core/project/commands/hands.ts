/** The hands of a pattern: taken up again, starred, named, bred, made patterns; and how they are kept. */
import { breedEvents } from '../../patterns/deal/breed.ts';
import { DEALER_VERSION } from '../../patterns/deal/deal.ts';
import { eventsOfHand, orderedEvents, rememberHand } from '../../queries/patterns.ts';
import { isSameJson } from '../../document/diff.ts';
import type { Hand, Pattern, PatternEvent } from '../../document/schema.ts';
import { find, refused, withPattern, type Command } from './command.ts';
import { layPattern } from './patterns.ts';

/** Hands kept for a pattern; the oldest goes when there are more. */
export const MAX_HANDS = 256;

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
export function withTableKept(pattern: Pattern, newId: () => string): Pattern {
  const { events, ground, handId } = pattern;
  const hand = handId === null ? undefined : find(pattern.hands, handId);
  const byHand = { seed: 0, reachPercent: 0, dealer: DEALER_VERSION, fromHandId: null, isEdited: true };
  if (!hand || !ground) {
    return withHand({ ...pattern, ground: events }, { id: newId(), ...byHand, isEdited: false, differs: {} });
  }
  if (eventsOfHand(pattern, hand.id) === events) return pattern;
  const differs = differences(ground, events);
  if (isSameJson(differs, hand.differs)) return pattern;
  const isDealtFrom = Object.values(pattern.hands).some((other) => other.fromHandId === hand.id);
  if (isDealtFrom) return withHand(pattern, { id: newId(), ...byHand, fromHandId: hand.id, differs });
  return { ...pattern, hands: { ...pattern.hands, [hand.id]: { ...hand, isEdited: true, differs } } };
}

export function withHand(pattern: Pattern, hand: Hand): Pattern {
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

export function differences(ground: Pattern['events'], events: Pattern['events']): Hand['differs'] {
  const out: Record<string, PatternEvent | null> = {};
  for (const [id, event] of Object.entries(events)) {
    if (ground[id] !== event && !isSameJson(ground[id], event)) out[id] = event;
  }
  for (const id of Object.keys(ground)) if (!Object.hasOwn(events, id)) out[id] = null;
  return out;
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
    rememberHand(hand, pattern.ground, events);
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
