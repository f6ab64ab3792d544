/** What moves settings of a voice while it sounds, worked out once a control step. Allocates nothing. */
import { ENVELOPE_ROWS, LFO_ROWS, MODULATION_TARGETS } from '../../params/modulators.ts';
import { slotsOf } from '../../params/row.ts';
import type { PlanModulator } from '../plan/fragments.ts';

/** Frames between two looks at what moves: steps lie on multiples of it, whatever the size of the blocks. */
export const CONTROL_FRAMES = 32;

const LFO = slotsOf(LFO_ROWS);
const ENVELOPE = slotsOf(ENVELOPE_ROWS);

/** Sums of what all modulators move, in the units of {@link MODULATION_TARGETS}. */
export interface Modulation {
  tuneCents: number;
  gainDb: number;
  pan: number;
  cutoffHz: number;
}

/** One period of each wave, -1..1, from a phase of 0..1; all begin at 0 and rise, but the square. */
const WAVES: readonly ((phase: number) => number)[] = [
  (phase) => Math.sin(2 * Math.PI * phase),
  (phase) => (phase < 0.25 ? 4 * phase : phase < 0.75 ? 2 - 4 * phase : 4 * phase - 4),
  (phase) => (phase < 0.5 ? 2 * phase : 2 * phase - 2),
  (phase) => (phase < 0.5 ? 1 : -1),
];

/** Value of an LFO, -1..1. @param seconds since it began */
export function lfoValue(values: Float64Array, seconds: number): number {
  const turns = seconds * values[LFO.rateHz]! + values[LFO.phase]!;
  return WAVES[values[LFO.wave]!]!(turns - Math.floor(turns));
}

/** Value of an envelope, 0..1. @param seconds since the voice began */
export function envelopeValue(values: Float64Array, seconds: number): number {
  const ms = seconds * 1000 - values[ENVELOPE.delayMs]!;
  const attackMs = values[ENVELOPE.attackMs]!;
  const decayMs = values[ENVELOPE.decayMs]!;
  const sustain = values[ENVELOPE.sustain]!;
  if (ms < 0) return 0;
  if (ms < attackMs) return ms / attackMs;
  if (ms - attackMs < decayMs) return 1 - ((1 - sustain) * (ms - attackMs)) / decayMs;
  return sustain;
}

/**
 * Works out all modulators of a voice.
 * @param voiceSeconds since the voice began
 * @param songSeconds since the renderer began, for what runs freely
 */
export function modulate(
  modulators: readonly PlanModulator[],
  voiceSeconds: number,
  songSeconds: number,
  out: Modulation,
): void {
  out.tuneCents = out.gainDb = out.pan = out.cutoffHz = 0;
  for (let m = 0; m < modulators.length; m++) {
    const { kind, values, routes } = modulators[m]!;
    const value =
      kind === 'lfo'
        ? lfoValue(values, values[LFO.restarts] ? voiceSeconds : songSeconds)
        : envelopeValue(values, voiceSeconds);
    for (let r = 0; r < routes.length; r++) {
      const { paramId, amount } = routes[r]!;
      out[paramId] += value * amount * MODULATION_TARGETS[paramId];
    }
  }
}
