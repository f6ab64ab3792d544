/** Strips that nobody hears: in a part that plays one at a time, of several on one step the last takes the place of all. */
import type { Part, PatternEvent, ProjectDocument } from '../document/schema.ts';
import { eventsOf } from './patterns.ts';
import { partValues, zoneValues } from './values.ts';

const NONE: ReadonlySet<string> = new Set();
const unheardOf = new WeakMap<readonly PatternEvent[], { from: readonly unknown[]; ids: ReadonlySet<string> }>();

/** Ids of the strips of a pattern that another one on the same step cuts off at once; the same set while nothing changes. */
export function unheardStrips(document: ProjectDocument, part: Part, patternId: string): ReadonlySet<string> {
  if (!partValues(part).oneAtATime) return NONE;
  const events = eventsOf(document, patternId);
  const known = unheardOf.get(events);
  if (known?.from[0] === part.zoneOrder && known.from[1] === document.zones) return known.ids;
  const ids = new Set<string>();
  for (let from = 0; from < events.length;) {
    let to = from + 1;
    while (to < events.length && events[to]!.positionTicks === events[from]!.positionTicks) to++;
    if (to - from > 1) collect(document, part, events.slice(from, to), ids);
    from = to;
  }
  unheardOf.set(events, { from: [part.zoneOrder, document.zones], ids: ids.size > 0 ? ids : NONE });
  return ids.size > 0 ? ids : NONE;
}

/** @param step the strips of one step, in the order in which they begin */
function collect(document: ProjectDocument, part: Part, step: readonly PatternEvent[], ids: Set<string>): void {
  const hasSolo = part.zoneOrder.some((id) => zoneValues(document.zones[id]!).soloed);
  const sounds = ({ zoneId }: PatternEvent) => {
    const { muted, soloed } = zoneValues(document.zones[zoneId]!);
    return hasSolo ? soloed : !muted;
  };
  // What comes by chance, or not in every round, leaves room for the others now and then.
  const isSure = ({ values }: PatternEvent) => (values.chancePercent ?? 100) >= 100 && (values.everyRounds ?? 1) === 1;
  const last = step.findLastIndex((event) => sounds(event) && isSure(event));
  for (const event of step.slice(0, Math.max(0, last))) if (sounds(event)) ids.add(event.id);
}
