/** Events and hands of a pattern stand under their own ids and play zones of its part. */
import { changedKeys, ownRecord } from '../changed-keys.ts';
import type { Pattern, PatternEvent, ProjectDocument } from '../schema.ts';
import { sameMembers } from './members.ts';

/** @param old what is the same there holds already; null: everything is looked at */
export function brokenPatternRule(document: ProjectDocument, pattern: Pattern, old: Pattern | null): string | null {
  const problem = (events: Record<string, PatternEvent | null>, known?: Record<string, PatternEvent | null>) => {
    for (const key of known ? changedKeys(known, events) : Object.keys(events)) {
      const event = ownRecord(events, key);
      if (!event) continue;
      if (event.id !== key) return `an event of pattern ${pattern.id} stands under another id than its own`;
      if (ownRecord(document.zones, event.zoneId)?.partId !== pattern.partId) {
        return `an event of pattern ${pattern.id} plays the unknown zone ${event.zoneId}`;
      }
    }
    return null;
  };
  const inEvents = problem(pattern.events, old?.events);
  if (inEvents) return inEvents;
  if (pattern.ground && pattern.ground !== old?.ground && pattern.ground !== old?.events) {
    const inGround = problem(pattern.ground);
    if (inGround) return inGround;
  }
  if (pattern.hands !== old?.hands) {
    for (const [key, hand] of Object.entries(pattern.hands)) {
      if (hand.id !== key) return `a hand of pattern ${pattern.id} stands under another id than its own`;
      if (old?.hands[key] === hand) continue;
      const inHand = problem(hand.differs);
      if (inHand) return inHand;
    }
  }
  if (!sameMembers(pattern.handOrder, Object.keys(pattern.hands))) return `pattern ${pattern.id} has lost a hand`;
  if (pattern.handId !== null && !ownRecord(pattern.hands, pattern.handId))
    return `pattern ${pattern.id} shows an unknown hand`;
  if (pattern.handOrder.length > 0 && !pattern.ground) return `pattern ${pattern.id} has hands and no ground`;
  return null;
}
