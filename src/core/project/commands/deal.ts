/** Dealing: random variations that can be told from their seed and never get lost. */
import { dealEvents } from '../../patterns/deal.ts';
import { orderedEvents } from '../../patterns/home.ts';
import { HOME, type Hand, type Pattern, type ProjectDocument } from '../schema.ts';
import { done, refused, withPattern, type Command } from './command.ts';
import { copyPattern } from './patterns.ts';

/** Hands kept for a pattern; the oldest goes when there are more. */
const MAX_HANDS = 64;

export interface DealArgs {
  partId: string;
  reachPercent: number;
  /** Given to repeat a certain deal; a new one otherwise. */
  seed?: number;
}

/**
 * Deals the pattern that the part plays. The home pattern is copied first. What lay on the table stays reachable as the
 * hand before, edits included.
 */
export const deal: Command<DealArgs> = (document, { partId, reachPercent, seed }, env) => {
  const part = document.parts[partId];
  if (!part) return refused('this part is gone');
  let current: ProjectDocument = document;
  if (part.activePatternId === HOME) {
    const copied = copyPattern(document, { partId, patternId: HOME }, env);
    if (!copied.ok) return copied;
    current = copied.document;
  }
  const patternId = current.parts[partId]!.activePatternId;
  const pattern = withTableKept(current.patterns[patternId]!, env.newId);
  const held = new Set(
    Object.values(pattern.events)
      .filter((event) => event.held)
      .map((event) => event.id),
  );
  // Every hand is dealt from the first one, so that a hand is told by its seed alone; held steps stay as they lie.
  const base = pattern.hands[pattern.handOrder[0]!]!.events;
  const from = orderedEvents(base).filter((event) => !held.has(event.id));
  const kept = Object.values(pattern.events).filter((event) => event.held);
  if (from.length < 2) return refused('dealing needs at least two steps that are not held');
  const hand: Hand = { id: env.newId(), seed: seed ?? env.newSeed(), reachPercent, events: {} };
  const events = Object.fromEntries([...dealEvents(from, hand), ...kept].map((event) => [event.id, event]));
  return done(showHand(current, addHand(pattern, { ...hand, events }), events));
};

/** Puts another hand on the table. */
export const takeHand: Command<{ patternId: string; handId: string }> = (document, { patternId, handId }, env) =>
  withPattern(document, patternId, (found) => {
    const pattern = withTableKept(found, env.newId);
    const hand = pattern.hands[handId];
    return hand ? { ...pattern, handId, events: hand.events } : null;
  });

/** Keeps what lies on the table in its hand; before the first deal that makes the hand to deal from (seed 0). */
function withTableKept(pattern: Pattern, newId: () => string): Pattern {
  const hand = pattern.handId === null ? null : pattern.hands[pattern.handId];
  if (hand) return { ...pattern, hands: { ...pattern.hands, [hand.id]: { ...hand, events: pattern.events } } };
  return addHand(pattern, { id: newId(), seed: 0, reachPercent: 0, events: pattern.events });
}

function addHand(pattern: Pattern, hand: Hand): Pattern {
  const order = [...pattern.handOrder, hand.id];
  // The first hand is what all are dealt from: the second oldest goes.
  if (order.length > MAX_HANDS) order.splice(1, 1);
  const all = { ...pattern.hands, [hand.id]: hand };
  const hands = Object.fromEntries(order.map((id) => [id, all[id]!]));
  return { ...pattern, hands, handOrder: order, handId: hand.id };
}

function showHand(document: ProjectDocument, pattern: Pattern, events: Pattern['events']): ProjectDocument {
  return { ...document, patterns: { ...document.patterns, [pattern.id]: { ...pattern, events } } };
}
