/** The level envelope of a zone as points that can be drawn and dragged, with the bends between them, as it sounds. */
import { bent } from '#core/dsp/bend.ts';
import type { ZoneValues } from '#core/params/tables.ts';

export type EnvelopeValues = Pick<ZoneValues, 'attackMs' | 'decayMs' | 'sustain' | 'releaseMs'> &
  Partial<Pick<ZoneValues, 'delayMs' | 'holdMs' | 'attackBend' | 'decayBend' | 'releaseBend'>>;

export interface EnvelopePoint {
  timeMs: number;
  /** Amplitude, 0..1. */
  level: number;
  /** Of the way to it, -1..1. */
  bend: number;
}

/** Places of the points. */
export const POINT = { start: 0, top: 1, held: 2, decayed: 3, letGo: 4, silent: 5 } as const;
/** Start, top of the attack, end of the hold, end of the decay, the moment it is let go, silence. */
export type EnvelopePoints = readonly [
  EnvelopePoint,
  EnvelopePoint,
  EnvelopePoint,
  EnvelopePoint,
  EnvelopePoint,
  EnvelopePoint,
];

/** Shortest stretch that a level is held for in the picture, of what is shown. */
const MIN_HELD_SHARE = 0.12;
/** Pieces that a bent way is drawn in. */
const PIECES = 12;

/** @param lengthMs how long the slice sounds, when nobody lets it go before */
export function envelopePoints(values: EnvelopeValues, lengthMs: number): EnvelopePoints {
  const { attackMs, decayMs, sustain, releaseMs } = values;
  const startMs = values.delayMs ?? 0;
  const topMs = startMs + attackMs;
  const heldMs = topMs + (values.holdMs ?? 0);
  const moved = heldMs - startMs + (sustain < 1 ? decayMs : 0);
  const letGoMs = startMs + Math.max(lengthMs, moved * (1 + MIN_HELD_SHARE));
  return [
    { timeMs: startMs, level: attackMs > 0 ? 0 : 1, bend: 0 },
    { timeMs: topMs, level: 1, bend: values.attackBend ?? 0 },
    { timeMs: heldMs, level: 1, bend: 0 },
    { timeMs: heldMs + decayMs, level: sustain, bend: values.decayBend ?? 0 },
    { timeMs: letGoMs, level: sustain, bend: 0 },
    { timeMs: letGoMs + releaseMs, level: 0, bend: values.releaseBend ?? 0 },
  ];
}

/** The level at a time: what the voice's gain is then. */
export function levelAt(points: EnvelopePoints, timeMs: number): number {
  if (timeMs < points[0].timeMs) return 0;
  for (let i = 1; i < points.length; i++) {
    const from = points[i - 1]!;
    const to = points[i]!;
    if (timeMs >= to.timeMs) continue;
    const share = (timeMs - from.timeMs) / (to.timeMs - from.timeMs);
    return from.level + (to.level - from.level) * bent(share, to.bend);
  }
  return 0;
}

/** The points with those between them that a bent way needs to be drawn. */
export function drawnPoints(points: EnvelopePoints): { timeMs: number; level: number }[] {
  return points.flatMap((to, i) => {
    const from = points[i - 1];
    if (!from || to.bend === 0 || from.level === to.level) return [to];
    return Array.from({ length: PIECES }, (_, piece) => {
      const share = (piece + 1) / PIECES;
      return {
        timeMs: from.timeMs + (to.timeMs - from.timeMs) * share,
        level: from.level + (to.level - from.level) * bent(share, to.bend),
      };
    });
  });
}
