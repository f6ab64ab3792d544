/** A pattern in small, as stripes in the colours of what it plays. */
import type { PatternEvent } from '#core/project/schema.ts';

/** Beyond this many strips there is nothing to tell apart. */
const MAX_STRIPES = 256;
/** Share of a strip that is coloured; the rest parts it from the next. */
const FILLED = 0.86;

/** A CSS image: hard-edged colour stops, two pairs a strip; `none` for an empty pattern. */
export function ribbonImage(
  events: readonly PatternEvent[],
  lengthTicks: number,
  colourById: ReadonlyMap<string, string>,
): string {
  const total = lengthTicks || 1;
  const stops = events.slice(0, MAX_STRIPES).flatMap((event) => {
    const from = ((event.positionTicks / total) * 100).toFixed(2);
    const to = (((event.positionTicks + event.lengthTicks * FILLED) / total) * 100).toFixed(2);
    const colour = colourById.get(event.zoneId) ?? 'transparent';
    return [`transparent ${from}%`, `${colour} ${from}%`, `${colour} ${to}%`, `transparent ${to}%`];
  });
  return stops.length > 0 ? `linear-gradient(to right, ${stops.join(', ')})` : 'none';
}
