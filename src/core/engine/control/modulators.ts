/** What moves settings of a voice while it sounds, worked out once a control step. Allocates nothing. */
import {
  CONTROLLER_SLOT,
  ENVELOPE,
  LFO,
  MACRO_POSITION,
  NOTE_RATES,
  ROUND,
  type ModulatorKind,
} from '../../params/modulators.ts';
import { hashed01 } from '../../units/hash.ts';
import type { PartControls } from './controls.ts';

/** A modulator, with its values as they are now. */
export interface Modulating {
  readonly kind: ModulatorKind;
  /** In the order of the kind's rows. */
  readonly values: Float64Array;
  /** Of a row of steps. */
  readonly steps: readonly number[];
  /** Of a curve, in the order of their places, 0..1. */
  readonly points: readonly { at: number; value: number }[];
  /** What its chance is drawn from. */
  readonly seed: number;
}

/** What modulators see of a voice, or of the latest hit of a part, and of the moment. */
export interface ControlView {
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
  /** Rounds that the one that is worked out is ahead of what its rate gives: see {@link aheadOf}. */
  ahead: number;
  /** What moved rates have brought of rounds up to now, one by one. */
  readonly turns: Float64Array;
  /** Since the last look, in seconds. */
  sinceSeconds: number;
}

/** Of the modulators of one sound, this many may have their rates moved. */
const MOST_TURNS = 32;

/** A view in which nothing has begun. */
export function controlView(): ControlView {
  return {
    voiceSeconds: 0,
    songSeconds: 0,
    voiceQuarters: 0,
    songQuarters: 0,
    releasedAtSeconds: Infinity,
    velocity: 1,
    key: 60,
    seed: 0,
    controls: null,
    ahead: 0,
    turns: new Float64Array(MOST_TURNS),
    sinceSeconds: 0,
  };
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

/**
 * Rounds that one is ahead of `seconds * rate`. What moves a rate is added up step by step, so that the place in the round
 * never jumps. @param place of its turns @param hurryHz how much its rate is moved
 */
export function aheadOf(view: ControlView, place: number, hurryHz: number, restarts: boolean): number {
  const { turns } = view;
  if (place >= turns.length || (hurryHz === 0 && turns[place] === 0)) return 0;
  turns[place]! += hurryHz * view.sinceSeconds;
  return turns[place]! - hurryHz * (restarts ? view.voiceSeconds : view.songSeconds);
}

/** Rounds that are gone, by Hz or by note values. */
function roundsGone(rate: RateSlots, values: Float64Array, view: ControlView): number {
  const restarts = values[rate.restarts] !== 0;
  if (values[rate.rateBy] === BY_NOTES) {
    const { quarters } = NOTE_RATES[values[rate.rateNote]!]!;
    return (restarts ? view.voiceQuarters : view.songQuarters) / quarters;
  }
  return (restarts ? view.voiceSeconds : view.songSeconds) * values[rate.rateHz]! + view.ahead;
}
type RateSlots = Pick<typeof LFO, 'rateBy' | 'rateHz' | 'rateNote' | 'restarts'>;

/** Value of an LFO, -1..1. @param seed of the modulator and, where it restarts, of the hit */
export function lfoValue(values: Float64Array, view: ControlView, seed: number): number {
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

function releasedEnvelope(values: Float64Array, { voiceSeconds, releasedAtSeconds }: ControlView): number {
  if (voiceSeconds <= releasedAtSeconds) return envelopeValue(values, voiceSeconds);
  const releaseMs = values[ENVELOPE.releaseMs]!;
  const gone = releaseMs <= 0 ? 1 : Math.min(1, ((voiceSeconds - releasedAtSeconds) * 1000) / releaseMs);
  return envelopeValue(values, releasedAtSeconds) * (1 - gone);
}

/** Place in a round, 0..1; 1 for what goes round once and is over. */
function placeInRound(values: Float64Array, view: ControlView): number {
  const rounds = roundsGone(ROUND, values, view);
  return values[ROUND.isOnce] !== 0 && rounds >= 1 ? 1 : rounds - Math.floor(rounds);
}

/** A row of steps: each value stays for its share of the round, the last part of it sliding to the next. */
export function stepsValue(steps: readonly number[], values: Float64Array, view: ControlView): number {
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
  view: ControlView,
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
export function modulatorValue(modulator: Modulating, view: ControlView): number {
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
    case 'macro':
      return values[MACRO_POSITION]!;
    // Follows the song and not the hit: see lane.ts.
    case 'lane':
      return 0;
  }
}
