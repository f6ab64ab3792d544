/** What the slices of a sound are: a first look at each, and a second one at each among the others. */
import { ROLES, type Role } from '../role-names.ts';
import { EarFeatures, READ_SECONDS } from './ear-features.ts';
import { EarNet } from './ear-net.ts';
import { FIRST_LOOK, SECOND_LOOK } from './ear-weights.ts';
import { agreed, likenesses, loopFeatures } from './second-look.ts';

/** A guess; `confidence` is the likelihood of the role among all roles, 0..1. */
export interface HeardRole {
  role: Role;
  confidence: number;
  /** The likeliest but one. */
  second: Role;
}

export interface HeardSlice {
  startFrame: number;
  endFrame: number;
  /** In beats from a bar line; null where no tempo is known. */
  beats: number | null;
}

/** Fewer slices are no loop: each is heard by itself. */
const LEAST_OF_A_LOOP = 3;
/** More are compared in stretches: every one with every other takes its time. */
const MOST_AT_ONCE = 128;

interface FirstLook {
  features: ReturnType<EarFeatures['of']>;
  logits: Float64Array;
}

/** By the signal, then by the slice's frames. */
const kept = new WeakMap<Float32Array, ReadonlyMap<string, FirstLook>>();

let first: EarNet | null = null;
let second: EarNet | null = null;
const ears = new Map<number, EarFeatures>();

function earsOf(sampleRate: number): EarFeatures {
  let found = ears.get(sampleRate);
  if (!found) ears.set(sampleRate, (found = new EarFeatures(sampleRate)));
  return found;
}

/**
 * @param slices in their order
 * @param beatsPerBar of the loop that they are of
 * @returns a guess a slice
 */
export function hearRoles(
  signal: Float32Array,
  sampleRate: number,
  slices: readonly HeardSlice[],
  beatsPerBar = 4,
): HeardRole[] {
  const once = (first ??= new EarNet(FIRST_LOOK));
  const again = (second ??= new EarNet(SECOND_LOOK));
  const silent = slices.map((slice) => isSilent(signal, sampleRate, slice));
  const looks = slices.map(({ startFrame, endFrame, beats }) => {
    const known = kept.get(signal)?.get(`${startFrame} ${endFrame}`);
    const features = known?.features ?? earsOf(sampleRate).of(signal, startFrame, endFrame);
    const logits = known?.logits ?? once.logits(features);
    return { features, logits, seconds: (endFrame - startFrame) / sampleRate, beats };
  });
  const told = (logits: Float64Array, place: number) => (silent[place] ? NOTHING : likeliest(logits));
  if (looks.length < LEAST_OF_A_LOOP) return looks.map(({ logits }, place) => told(logits, place));
  const found: HeardRole[] = [];
  for (let at = 0; at < looks.length; at += MOST_AT_ONCE) {
    const some = looks.slice(Math.max(0, Math.min(at, looks.length - MOST_AT_ONCE)), at + MOST_AT_ONCE);
    const alike = likenesses(some);
    const answers = loopFeatures(some, beatsPerBar, alike).map((row) => again.logits(row));
    const fresh = Math.min(MOST_AT_ONCE, looks.length - at);
    for (const logits of agreed(alike, answers).slice(-fresh)) found.push(told(logits, found.length));
  }
  return found;
}

/** How likely a slice is what, 0..1. */
export interface DrumOdds {
  /** Drums, and nothing else. */
  drums: number;
  kick: number;
  /** Snare, rim or clap. */
  snare: number;
}

const NO_DRUMS: ReadonlySet<Role> = new Set<Role>(['bass', 'note', 'chord', 'other']);
const ON_THE_BACKBEAT: ReadonlySet<Role> = new Set<Role>(['snare', 'rim', 'clap']);

/**
 * Of each slice, heard by itself.
 * @param keeps the first look is kept, for as long as the signal is, for who asks for roles of the same slices
 */
export function drumOdds(
  signal: Float32Array,
  sampleRate: number,
  slices: readonly Omit<HeardSlice, 'beats'>[],
  keeps = false,
): DrumOdds[] {
  const once = (first ??= new EarNet(FIRST_LOOK));
  const looks = new Map<string, FirstLook>();
  if (keeps) kept.set(signal, looks);
  return slices.map((slice) => {
    const { startFrame, endFrame } = slice;
    const odds: DrumOdds = { drums: 0, kick: 0, snare: 0 };
    if (isSilent(signal, sampleRate, slice)) return odds;
    const features = earsOf(sampleRate).of(signal, startFrame, endFrame);
    const logits = once.logits(features);
    if (keeps) looks.set(`${startFrame} ${endFrame}`, { features, logits });
    for (const [place, logit] of logits.entries()) {
      const role = ROLES[place]!;
      const share = Math.exp(logit);
      if (!NO_DRUMS.has(role)) odds.drums += share;
      if (ON_THE_BACKBEAT.has(role)) odds.snare += share;
      if (role === 'kick') odds.kick = share;
    }
    return odds;
  });
}

/** Below this there is nothing to hear. */
const SILENCE = 1e-5;
const NOTHING: HeardRole = { role: 'other', confidence: 0, second: 'other' };

/** As far as a slice is listened to: what sounds only later is nothing that could be named. */
function isSilent(signal: Float32Array, sampleRate: number, slice: Omit<HeardSlice, 'beats'>): boolean {
  const { startFrame, endFrame } = slice;
  const end = Math.min(signal.length, endFrame, startFrame + READ_SECONDS * sampleRate);
  for (let i = Math.max(0, startFrame); i < end; i++) if (Math.abs(signal[i]!) > SILENCE) return false;
  return true;
}

function likeliest(logits: Float64Array): HeardRole {
  const order = Array.from(logits, (_, role) => role).sort((a, b) => logits[b]! - logits[a]!);
  const [best, next] = [order[0]!, order[1]!];
  return { role: ROLES[best] ?? 'other', confidence: Math.exp(logits[best]!), second: ROLES[next] ?? 'other' };
}
