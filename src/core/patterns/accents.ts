/** Patterns of accents: how strong each of the chosen strips is, by where it stands. A new one is a row of the table. */
import type { PatternEvent } from '../document/schema.ts';
import type { Transform, TransformContext, TransformRow } from './transform-row.ts';

/** Share of a beat that a strip may be off and is still on it. */
const ON_BEAT = 1 / 8;
/** Strength of the first and of the last of a row that grows or fades. */
const SOFT = 0.4;
const STRONG = 1;

/** The beat that a position is on, counted from the bar's first as 0; null between beats. */
function beatOf(ticks: number, { beatTicks, beatsPerBar }: TransformContext): number | null {
  const beat = Math.round(ticks / beatTicks);
  return Math.abs(ticks - beat * beatTicks) < beatTicks * ON_BEAT ? beat % beatsPerBar : null;
}

function isHalfway(ticks: number, { beatTicks }: TransformContext): boolean {
  const share = (ticks / beatTicks) % 1;
  return Math.abs(share - 0.5) < ON_BEAT;
}

function strengths(strengthOf: (event: PatternEvent, context: TransformContext) => number): Transform {
  return (events, context) =>
    events.map((event) => ({ ...event, values: { ...event.values, velocity: strengthOf(event, context) } }));
}

/** By even steps of strength over the time that the strips take up. */
function ramp(from: number, to: number): Transform {
  return (events) => {
    const first = events[0]?.positionTicks ?? 0;
    const span = Math.max(1e-9, (events.at(-1)?.positionTicks ?? 0) - first);
    return events.map((event) => {
      const velocity = from + (to - from) * ((event.positionTicks - first) / span);
      return { ...event, values: { ...event.values, velocity } };
    });
  };
}

export const ACCENTS = {
  accent: {
    words: 'accents on the beats',
    hint: 'Strong on the first beat, less on the others, soft between',
    kind: 'accents',
    apply: strengths(({ positionTicks }, context) => {
      const beat = beatOf(positionTicks, context);
      return beat === null ? 0.66 : beat === 0 ? 1 : 0.86;
    }),
  },
  backbeat: {
    words: 'accents on two and four',
    hint: 'Strong on every second beat, less on the others, soft between',
    kind: 'accents',
    apply: strengths(({ positionTicks }, context) => {
      const beat = beatOf(positionTicks, context);
      return beat === null ? 0.62 : beat % 2 === 1 ? 1 : 0.8;
    }),
  },
  offbeats: {
    words: 'accents between the beats',
    hint: 'Strong halfway between beats, soft elsewhere',
    kind: 'accents',
    apply: strengths(({ positionTicks }, context) => (isHalfway(positionTicks, context) ? 1 : 0.7)),
  },
  growing: { words: 'growing', hint: 'From soft to strong', kind: 'accents', apply: ramp(SOFT, STRONG) },
  fading: { words: 'fading', hint: 'From strong to soft', kind: 'accents', apply: ramp(STRONG, SOFT) },
} as const satisfies Record<string, TransformRow>;
