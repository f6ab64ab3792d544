/** A pattern in small, as stripes in the colours of what it plays. */
import type { PatternEvent } from '#core/document/schema.ts';

/** Stripes that can be told apart in so small a picture; of strips that lie closer only the longest is drawn. */
const MAX_STRIPES = 96;
/** Share of a strip that is coloured; the rest parts it from the next. */
const FILLED = 0.86;

interface Made {
  lengthTicks: number;
  colourById: ReadonlyMap<string, string>;
  image: string;
}
/** A browser takes milliseconds to read such an image: what has not changed stays the same one. */
const madeOf = new WeakMap<readonly PatternEvent[], Made>();

/** A CSS image: hard-edged colour stops, two pairs a strip; `none` for an empty pattern. @param events by position */
export function ribbonImage(
  events: readonly PatternEvent[],
  lengthTicks: number,
  colourById: ReadonlyMap<string, string>,
): string {
  const known = madeOf.get(events);
  if (known && known.lengthTicks === lengthTicks && known.colourById === colourById) return known.image;
  const image = makeImage(events, lengthTicks || 1, colourById);
  madeOf.set(events, { lengthTicks, colourById, image });
  return image;
}

function makeImage(
  events: readonly PatternEvent[],
  lengthTicks: number,
  colourById: ReadonlyMap<string, string>,
): string {
  const leastTicks = lengthTicks / MAX_STRIPES;
  const shown = stripesApart(events, leastTicks);
  const stops = shown.flatMap((event, place) => {
    const next = shown[place + 1]?.positionTicks ?? Infinity;
    const filledTicks = Math.max(event.lengthTicks, leastTicks) * FILLED;
    const endTicks = Math.min(event.positionTicks + filledTicks, next);
    const from = ((event.positionTicks / lengthTicks) * 100).toFixed(2);
    const to = ((endTicks / lengthTicks) * 100).toFixed(2);
    const colour = colourById.get(event.zoneId) ?? 'transparent';
    return [`transparent ${from}%`, `${colour} ${from}%`, `${colour} ${to}%`, `transparent ${to}%`];
  });
  return stops.length > 0 ? `linear-gradient(to right, ${stops.join(', ')})` : 'none';
}

/** Of events that lie closer than so many ticks only the longest: of a flam its stroke. @param events by position */
export function stripesApart(events: readonly PatternEvent[], leastTicks: number): PatternEvent[] {
  const kept: PatternEvent[] = [];
  let lastTicks = -Infinity;
  for (const event of events) {
    if (event.positionTicks - lastTicks >= leastTicks) {
      lastTicks = event.positionTicks;
      kept.push(event);
    } else if (event.lengthTicks > kept.at(-1)!.lengthTicks) kept[kept.length - 1] = event;
  }
  return kept;
}
