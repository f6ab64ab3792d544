/**
 * What can be done to chosen strips of a pattern at once. Each takes them in order of position and gives those that stand
 * in their place: the same ids where they are the same strips, new ids for new ones. A new one is a row of the table.
 */
import type { PatternEvent } from '../document/schema.ts';
import { ACCENTS } from './accents.ts';
import { snapToGrid } from './grid.ts';
import type { Transform, TransformContext, TransformRow } from './transform-row.ts';

/** Nearer than this two positions are the same, in ticks. */
const SAME_TICKS = 1;
/** Shortest strip that comes out, in ticks: a 1/512 note. */
const SHORTEST_TICKS = 7.5;
/** Humanised, a strip is off by so much at most: 12 ticks are 6 ms at 120 bpm. */
const LOOSE_TICKS = 12;
const LOOSE_VELOCITY = 0.12;
const FILL_VELOCITY = 0.6;

const endOf = ({ positionTicks, lengthTicks }: PatternEvent) => positionTicks + lengthTicks;
const velocityOf = ({ values }: PatternEvent) => values.velocity ?? 1;
const wrapped = (ticks: number, lengthTicks: number) => ((ticks % lengthTicks) + lengthTicks) % lengthTicks;

function fitted(event: PatternEvent, lengthTicks: number): PatternEvent {
  const most = Math.max(SHORTEST_TICKS, lengthTicks - event.positionTicks);
  return { ...event, lengthTicks: Math.max(SHORTEST_TICKS, Math.min(event.lengthTicks, most)) };
}

/** Moves strips round the pattern: what leaves it at one end comes in at the other. */
const turnedBy =
  (direction: 1 | -1): Transform =>
  (events, { lengthTicks, gridTicks }) =>
    events.map((event) =>
      fitted(
        { ...event, positionTicks: wrapped(event.positionTicks + direction * gridTicks, lengthTicks) },
        lengthTicks,
      ),
    );

const mirrored: Transform = (events) => {
  const from = events[0]!.positionTicks;
  const to = Math.max(...events.map(endOf));
  return events.map((event) => ({ ...event, positionTicks: Math.max(from, from + to - endOf(event)) }));
};

/** In half the time, and once more after that. */
const doubled: Transform = (events, { newId }) => {
  const from = events[0]!.positionTicks;
  const half = (Math.max(...events.map(endOf)) - from) / 2;
  const faster = events.map((event) => ({
    ...event,
    positionTicks: from + (event.positionTicks - from) / 2,
    lengthTicks: Math.max(SHORTEST_TICKS, event.lengthTicks / 2),
  }));
  return [...faster, ...faster.map((event) => ({ ...event, id: newId(), positionTicks: event.positionTicks + half }))];
};

/** In twice the time; what comes after the pattern's end goes. */
const halved: Transform = (events, { lengthTicks }) => {
  const from = events[0]!.positionTicks;
  return events
    .map((event) => ({
      ...event,
      positionTicks: from + (event.positionTicks - from) * 2,
      lengthTicks: event.lengthTicks * 2,
    }))
    .filter(({ positionTicks }) => positionTicks < lengthTicks - SHORTEST_TICKS)
    .map((event) => fitted(event, lengthTicks));
};

const thinned: Transform = (events) => events.filter((_, place) => place % 2 === 0);

/** On each empty step the strip before it once more, softer. */
const filled: Transform = (events, { lengthTicks, gridTicks, newId }) => {
  const out: PatternEvent[] = [];
  events.forEach((event, place) => {
    const next = Math.min(lengthTicks, events[place + 1]?.positionTicks ?? endOf(event));
    const added: PatternEvent[] = [];
    const first = Math.floor(event.positionTicks / gridTicks + 1e-6) + 1;
    for (let step = first; step * gridTicks < next - SAME_TICKS; step++) {
      added.push({
        ...event,
        id: newId(),
        positionTicks: step * gridTicks,
        lengthTicks: Math.max(SHORTEST_TICKS, Math.min(gridTicks, next - step * gridTicks)),
        values: { ...event.values, velocity: velocityOf(event) * FILL_VELOCITY, hold: false },
      });
    }
    const until = added[0]?.positionTicks ?? endOf(event);
    out.push({
      ...event,
      lengthTicks: Math.max(SHORTEST_TICKS, Math.min(event.lengthTicks, until - event.positionTicks)),
    });
    out.push(...added);
  });
  return out;
};

/** Each lasts until the next one begins. */
const legato: Transform = (events, { lengthTicks }) =>
  events.map((event, place) => {
    const next = events.slice(place + 1).find(({ positionTicks }) => positionTicks > event.positionTicks + SAME_TICKS);
    const until = next?.positionTicks ?? lengthTicks;
    return { ...event, lengthTicks: Math.max(SHORTEST_TICKS, until - event.positionTicks) };
  });

const staccato: Transform = (events, { gridTicks }) =>
  events.map((event) => ({
    ...event,
    lengthTicks: Math.max(SHORTEST_TICKS, Math.min(event.lengthTicks / 2, gridTicks / 2)),
  }));

/** To the nearest step of the grid. */
const straightened: Transform = (events, { lengthTicks, gridTicks }) =>
  events.map((event) =>
    fitted({ ...event, positionTicks: wrapped(snapToGrid(event.positionTicks, gridTicks), lengthTicks) }, lengthTicks),
  );

/** A little early or late, a little softer or harder; the same for the same seed. */
const humanised: Transform = (events, { lengthTicks, random }) =>
  events.map((event) => {
    const positionTicks = event.positionTicks + LOOSE_TICKS * (2 * random() - 1);
    const velocity = velocityOf(event) * (1 + LOOSE_VELOCITY * (2 * random() - 1));
    return fitted(
      {
        ...event,
        positionTicks: Math.max(0, Math.min(lengthTicks - SHORTEST_TICKS, positionTicks)),
        values: { ...event.values, velocity: Math.max(0.01, Math.min(1, velocity)) },
      },
      lengthTicks,
    );
  });

/** Two of half the length in the place of each. */
const halves: Transform = (events, { newId }) =>
  events.flatMap((event) => {
    const lengthTicks = event.lengthTicks / 2;
    if (lengthTicks < SHORTEST_TICKS) return [event];
    return [
      { ...event, lengthTicks },
      { ...event, id: newId(), positionTicks: event.positionTicks + lengthTicks, lengthTicks },
    ];
  });

export const TRANSFORMS = {
  later: {
    words: 'a step later',
    hint: 'What leaves the pattern at its end comes in at its start',
    apply: turnedBy(1),
  },
  earlier: {
    words: 'a step earlier',
    hint: 'What leaves the pattern at its start comes in at its end',
    apply: turnedBy(-1),
  },
  mirror: { words: 'mirror in time', hint: 'The last comes first', apply: mirrored },
  double: { words: 'twice as fast', hint: 'In half the time, and once more after that', apply: doubled },
  halve: { words: 'half as fast', hint: 'In twice the time', apply: halved },
  halves: { words: 'cut in two', hint: 'Two of half the length in the place of each', apply: halves },
  thin: { words: 'thin out', hint: 'Every second one goes', apply: thinned },
  fill: { words: 'fill', hint: 'Empty steps get the strip before them once more, softer', apply: filled },
  legato: { words: 'to the next', hint: 'Each lasts until the next one begins', apply: legato },
  staccato: { words: 'short', hint: 'Half as long, half a step at most', apply: staccato },
  straighten: { words: 'onto the grid', hint: 'Each moves to the nearest step', apply: straightened },
  humanise: { words: 'loosen', hint: 'A little early or late, softer or harder, by chance', apply: humanised },
  ...ACCENTS,
} as const satisfies Record<string, TransformRow>;
export type TransformId = keyof typeof TRANSFORMS;

/**
 * Does one of the transforms.
 * @param events in order of position, all beginning in the pattern; what reaches over its end is cut off there
 */
export function transformStrips(
  id: TransformId,
  events: readonly PatternEvent[],
  context: TransformContext,
): PatternEvent[] {
  const inside = events.map((event) => fitted(event, context.lengthTicks));
  return TRANSFORMS[id].apply(inside, context).filter(({ positionTicks }) => positionTicks < context.lengthTicks);
}
export const TRANSFORM_IDS = Object.keys(TRANSFORMS) as TransformId[];
