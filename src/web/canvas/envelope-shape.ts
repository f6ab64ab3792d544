/** The level envelope of a zone as points that can be drawn and dragged: straight lines of amplitude, as it sounds. */
import type { ZoneValues } from '#core/params/tables.ts';

export type EnvelopeValues = Pick<ZoneValues, 'attackMs' | 'decayMs' | 'sustain' | 'releaseMs'>;

export interface EnvelopePoint {
  timeMs: number;
  /** Amplitude, 0..1. */
  level: number;
}

/** Start, top of the attack, end of the decay, the moment the sound is let go, silence. */
export type EnvelopePoints = readonly [EnvelopePoint, EnvelopePoint, EnvelopePoint, EnvelopePoint, EnvelopePoint];

/** Shortest stretch that a level is held for in the picture, of what is shown. */
const MIN_HELD_SHARE = 0.12;

/** @param lengthMs how long the slice sounds, when nobody lets it go before */
export function envelopePoints(values: EnvelopeValues, lengthMs: number): EnvelopePoints {
  const { attackMs, decayMs, sustain, releaseMs } = values;
  const held = attackMs + (sustain < 1 ? decayMs : 0);
  const letGoMs = Math.max(lengthMs, held * (1 + MIN_HELD_SHARE));
  return [
    { timeMs: 0, level: attackMs > 0 ? 0 : 1 },
    { timeMs: attackMs, level: 1 },
    { timeMs: attackMs + decayMs, level: sustain },
    { timeMs: letGoMs, level: sustain },
    { timeMs: letGoMs + releaseMs, level: 0 },
  ];
}

/** The level at a time: what the voice's gain is then. */
export function levelAt(points: EnvelopePoints, timeMs: number): number {
  for (let i = 1; i < points.length; i++) {
    const from = points[i - 1]!;
    const to = points[i]!;
    if (timeMs < to.timeMs)
      return from.level + ((to.level - from.level) * (timeMs - from.timeMs)) / (to.timeMs - from.timeMs);
  }
  return 0;
}
