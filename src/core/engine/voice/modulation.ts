/** What moves settings of a voice while it sounds, worked out once a control step. Allocates nothing. */
import { CONTROLLER_SLOT, ENVELOPE, LFO, MODULATION_TARGETS, NOTE_RATES, ROUND } from '../../params/modulators.ts';
import { hashed01 } from '../../units/hash.ts';
import type { PlanModulator } from '../plan/fragments.ts';
import type { PartControls } from './controls.ts';

/** Frames between two looks at what moves: steps lie on multiples of it, whatever the size of the blocks. */
export const CONTROL_FRAMES = 32;

/** Sums of what all modulators move, in the units of {@link MODULATION_TARGETS}. */
export type Modulation = Record<keyof typeof MODULATION_TARGETS, number>;

export function noModulation(): Modulation {
  return { tuneCents: 0, gainDb: 0, pan: 0, cutoffHz: 0, resonance: 0, driveDb: 0, startOffsetMs: 0 };
}

/** What modulators see of a voice and of the moment. */
export interface VoiceView {
  /** Since the voice began, and since the renderer did. */
  voiceSeconds: number;
  songSeconds: number;
  /** The same in quarters, at the song's tempo. */
  voiceQuarters: number;
  songQuarters: number;
  /** When the key was let go, in seconds of the voice; Infinity while it is held. */
  releasedAtSeconds: number;
  velocity: number;
  /** MIDI note, fractions allowed; -1 for what was not played by a key. */
  key: number;
  /** The same for the same hit on every machine. */
  seed: number;
  controls: PartControls | null;
}

const PULSE = 3;
const STEPPED = 4;
const SMOOTH = 5;
const BY_NOTES = 1;

/** One period of a wave, -1..1, from a phase of 0..1; all begin at 0 and rise, but the pulse. */
function waveAt(wave: number, phase: number, symmetry: number, width: number): number {
  switch (wave) {
    case 0:
      return Math.sin(2 * Math.PI * phase);
    case 1:
      return phase < 0.25 ? 4 * phase : phase < 0.75 ? 2 - 4 * phase : 4 * phase - 4;
    case PULSE:
      return phase < width ? 1 : -1;
    default: {
      // Rises up to its turn, and falls from there.
      const place = (phase + symmetry / 2) % 1;
      return place < symmetry ? (2 * place) / symmetry - 1 : 1 - (2 * (place - symmetry)) / (1 - symmetry);
    }
  }
}

/** Rounds that are gone, by Hz or by note values. */
function roundsGone(rate: RateSlots, values: Float64Array, view: VoiceView): number {
  const restarts = values[rate.restarts] !== 0;
  if (values[rate.rateBy] === BY_NOTES) {
    const { quarters } = NOTE_RATES[values[rate.rateNote]!]!;
    return (restarts ? view.voiceQuarters : view.songQuarters) / quarters;
  }
  return (restarts ? view.voiceSeconds : view.songSeconds) * values[rate.rateHz]!;
}
type RateSlots = Pick<typeof LFO, 'rateBy' | 'rateHz' | 'rateNote' | 'restarts'>;

/** Value of an LFO, -1..1. @param seed of the modulator and, where it restarts, of the hit */
export function lfoValue(values: Float64Array, view: VoiceView, seed: number): number {
  const turns = roundsGone(LFO, values, view) + values[LFO.phase]!;
  const whole = Math.floor(turns);
  const wave = values[LFO.wave]!;
  if (wave < STEPPED) return waveAt(wave, turns - whole, values[LFO.symmetry]!, values[LFO.width]!);
  const drawn = 2 * hashed01(seed, whole) - 1;
  if (wave !== SMOOTH) return drawn;
  const next = 2 * hashed01(seed, whole + 1) - 1;
  return drawn + (next - drawn) * (0.5 - 0.5 * Math.cos(Math.PI * (turns - whole)));
}

/** Value of an envelope while its key is held, 0..1. @param seconds since the voice began */
export function envelopeValue(values: Float64Array, seconds: number): number {
  const ms = seconds * 1000 - values[ENVELOPE.delayMs]!;
  const attackMs = values[ENVELOPE.attackMs]!;
  const decayMs = values[ENVELOPE.decayMs]!;
  const sustain = values[ENVELOPE.sustain]!;
  if (ms < 0) return 0;
  if (ms < attackMs) return ms / attackMs;
  const since = ms - attackMs - values[ENVELOPE.holdMs]!;
  if (since < 0) return 1;
  return since < decayMs ? 1 - ((1 - sustain) * since) / decayMs : sustain;
}

function releasedEnvelope(values: Float64Array, { voiceSeconds, releasedAtSeconds }: VoiceView): number {
  if (voiceSeconds <= releasedAtSeconds) return envelopeValue(values, voiceSeconds);
  const releaseMs = values[ENVELOPE.releaseMs]!;
  const gone = releaseMs <= 0 ? 1 : Math.min(1, ((voiceSeconds - releasedAtSeconds) * 1000) / releaseMs);
  return envelopeValue(values, releasedAtSeconds) * (1 - gone);
}

/** Place in a round, 0..1; 1 for what goes round once and is over. */
function placeInRound(values: Float64Array, view: VoiceView): number {
  const rounds = roundsGone(ROUND, values, view);
  return values[ROUND.isOnce] !== 0 && rounds >= 1 ? 1 : rounds - Math.floor(rounds);
}

/** A row of steps: each value stays for its share of the round, the last part of it sliding to the next. */
export function stepsValue(steps: readonly number[], values: Float64Array, view: VoiceView): number {
  const place = placeInRound(values, view) * steps.length;
  const index = Math.min(steps.length - 1, Math.floor(place));
  const value = steps[index]!;
  const smooth = values[ROUND.smooth]!;
  const into = place - index - (1 - smooth);
  if (smooth === 0 || into <= 0) return value;
  const isLast = index === steps.length - 1;
  const next = isLast && values[ROUND.isOnce] !== 0 ? value : steps[(index + 1) % steps.length]!;
  return value + ((next - value) * Math.min(into, smooth)) / smooth;
}

/** A curve through points, straight between them. @param points in the order of their places, 0..1 */
export function curveValue(
  points: readonly { at: number; value: number }[],
  values: Float64Array,
  view: VoiceView,
): number {
  const place = placeInRound(values, view);
  let before = points[0]!;
  if (place <= before.at) return before.value;
  for (let i = 1; i < points.length; i++) {
    const point = points[i]!;
    if (place < point.at) {
      return before.value + ((point.value - before.value) * (place - before.at)) / (point.at - before.at);
    }
    before = point;
  }
  return before.value;
}

/** What a modulator says now, -1..1. */
export function modulatorValue(modulator: PlanModulator, view: VoiceView): number {
  const { kind, values, seed } = modulator;
  switch (kind) {
    case 'lfo':
      return lfoValue(values, view, values[LFO.restarts] !== 0 ? seed ^ view.seed : seed);
    case 'envelope':
      return releasedEnvelope(values, view);
    case 'steps':
      return stepsValue(modulator.steps, values, view);
    case 'curve':
      return curveValue(modulator.points, values, view);
    case 'velocity':
      return view.velocity;
    case 'key':
      return view.key < 0 ? 0 : Math.max(-1, Math.min(1, (view.key - 60) / 60));
    case 'random':
      return 2 * hashed01(view.seed, seed) - 1;
    case 'controller':
      return view.controls?.controllers[values[CONTROLLER_SLOT]!] ?? 0;
    case 'bend':
      return view.controls?.bend ?? 0;
    case 'pressure':
      return view.controls?.pressure ?? 0;
  }
}

/** Works out all modulators of a voice. */
export function modulate(modulators: readonly PlanModulator[], view: VoiceView, out: Modulation): void {
  out.tuneCents = out.gainDb = out.pan = out.cutoffHz = out.resonance = out.driveDb = out.startOffsetMs = 0;
  for (let m = 0; m < modulators.length; m++) {
    const modulator = modulators[m]!;
    const { routes } = modulator;
    if (routes.length === 0) continue;
    const value = modulatorValue(modulator, view);
    for (let r = 0; r < routes.length; r++) {
      const { paramId, amount } = routes[r]!;
      out[paramId] += value * amount * MODULATION_TARGETS[paramId];
    }
  }
}
