/** Everything that is read from a source once, and what slices of it are described by. */
import { mixForReading, type AudioData } from '../dsp/audio.ts';
import { BAND_COUNT, BAND_EDGES_HZ, bandEnergySteps, type BandEnergies } from './band-energies.ts';
import { onsetSteps, type OnsetAnalysis } from './detect-onsets.ts';
import { DEFAULT_SELECTION, selectOnsets } from './select-onsets.ts';
import { isTuned } from './in-tune.ts';
import { measurePitch, QUICK_WINDOWS, type Pitch } from './pitch.ts';
import type { Role } from './role-names.ts';
import { EARS_VERSION } from './ears/ears-version.ts';
import { drumOdds, hearRoles, type HeardRole } from './ears/hear-roles.ts';
import { readTempo } from './read-tempo.ts';
import { runToEnd, within, type Steps } from '../units/steps.ts';
import type { TempoHit, TempoReading } from './tempo.ts';

export interface SourceAnalysis extends OnsetAnalysis {
  sampleRate: number;
  /** Mean of the channels, or the louder one where they cancel each other. */
  mono: Float32Array;
  energies: BandEnergies;
  /** The likely hits as the tempo readers need them. */
  tempoHits: TempoHit[];
  /** Readings of the whole file as a trimmed loop, the likeliest first. */
  tempoReadings: TempoReading[];
}

/** Roles that have no note: looking for one is a waste where they are sure. */
const NOISY_ROLES: ReadonlySet<Role> = new Set<Role>(['snare', 'rim', 'clap', 'closed hat', 'open hat', 'cymbal']);
const SURE_OF_NOISE = 0.6;
const SURE_OF_DRUM = 0.7;
/** Of these one tells the other better than their spectrum: one note has a pitch, several at once seldom have. */
const TONAL_ROLES: ReadonlySet<Role> = new Set<Role>(['note', 'chord']);

/** Struck sounds that are notes where the loop is a melody. */
const STRUCK_ROLES: ReadonlySet<Role> = new Set<Role>(['percussion', 'tom', 'other']);
const NOTES: ReadonlySet<Role> = new Set<Role>(['bass', 'note', 'chord']);
/** A sound is held that falls by less than this over its first part, between stretches of so long at both ends of it. */
const HELD_DB = 4;
const HELD_SECONDS = 0.3;
const HELD_STRETCH_SECONDS = 0.05;
/** Attacks are over by then. */
const ATTACK_SECONDS = 0.02;

/** A half-open range of frames of a source. */
export interface FrameRange {
  startFrame: number;
  endFrame: number;
}

/** What a slice sounds like. */
export interface SliceFacts {
  role: Role;
  /** 0..1 */
  roleConfidence: number;
  /** The likeliest but one. */
  secondRole?: Role | undefined;
  /** Of the ears that guessed; left out where nobody guessed. */
  earsVersion?: number | undefined;
  /** Spectral centroid over nine bands, in Hz. */
  brightnessHz: number;
  /** Nearest note and distance from it in cents; null without a steady pitch. */
  midi: number | null;
  cents: number | null;
}

/** Of a long take the tempo is told by as many. */
const MOST_HEARD = 600;

const slicesBetween = (onsets: readonly { frame: number }[], frames: number): FrameRange[] =>
  onsets.map(({ frame }, place) => ({ startFrame: frame, endFrame: onsets[place + 1]?.frame ?? frames }));

/** Reads hits and tempo. Pure; cost about 2% of real time. */
export function analyseSource(audio: AudioData): SourceAnalysis {
  return runToEnd(analysisSteps(audio));
}

/** The same in steps that yield the share done: for progress, and for stopping. */
export function* analysisSteps(audio: AudioData): Steps<SourceAnalysis> {
  const mono = mixForReading(audio);
  const { sampleRate } = audio;
  const energies = yield* within(bandEnergySteps(mono, sampleRate), 0, 0.4);
  const { onsets, landscape } = yield* within(onsetSteps(mono, sampleRate, energies), 0.4, 0.85);
  const selected = selectOnsets(onsets, sampleRate, DEFAULT_SELECTION);
  const odds = drumOdds(mono, sampleRate, slicesBetween(selected.slice(0, MOST_HEARD), mono.length), true);
  const hits = selected.map(({ frame, likelihood }, place) => {
    const { kick, snare } = odds[place] ?? { kick: 0, snare: 0 };
    return { frame, strength: likelihood, snare, kick };
  });
  yield 0.9;
  const tempoReadings = readTempo(hits, mono.length, sampleRate);
  return { sampleRate, mono, energies, onsets, landscape, tempoHits: hits, tempoReadings };
}

/**
 * Describes ranges of an analysed source, one result a range.
 * @param among the other slices of the loop, beside which each is heard; those that are ranges, too, count once
 */
export function describeSlices(
  analysis: SourceAnalysis,
  ranges: readonly FrameRange[],
  among: readonly FrameRange[] = [],
): SliceFacts[] {
  const { energies, mono, sampleRate } = analysis;
  const guesses = rolesAmong(analysis, ranges, among);
  const pitchOf = (range: FrameRange): Pitch | null => {
    const { role, confidence, second } = guesses.get(range)!;
    const isNoise = NOISY_ROLES.has(role) && (confidence > SURE_OF_NOISE || NOISY_ROLES.has(second));
    return isNoise ? null : measurePitch(mono, sampleRate, range.startFrame, range.endFrame, QUICK_WINDOWS);
  };
  const pitches = new Map(ranges.map((range) => [range, pitchOf(range)]));
  const mayBeNote = (range: FrameRange) => STRUCK_ROLES.has(guesses.get(range)!.role);
  // Struck sounds with a pitch may be drums or a mallet's notes: what all of the loop is tuned to tells.
  const isAsked = ranges.some((range) => mayBeNote(range) && pitches.get(range));
  const tuned = [...guesses.keys()].filter((range) => mayBeNote(range) || guesses.get(range)!.role === 'note');
  const isMelody =
    isAsked && isTuned(tuned.map((range) => (pitches.has(range) ? (pitches.get(range) ?? null) : pitchOf(range))));
  return ranges.map((range) => {
    const { startFrame, endFrame } = range;
    const startHop = hopOf(energies, startFrame);
    const endHop = Math.max(startHop + 1, hopOf(energies, endFrame));
    const guess = guesses.get(range)!;
    const pitch = pitches.get(range) ?? null;
    const tonal = (role: Role): Role => (TONAL_ROLES.has(role) ? (pitch ? 'note' : 'chord') : role);
    // A pitch that is held is no drum, where nobody is sure of it; one beside a note that it nearly was is that note.
    const isOther = pitch !== null && !NOTES.has(guess.role);
    const isNearlyNote = isOther && NOTES.has(guess.second) && guess.confidence < SURE_OF_DRUM;
    const isUnsure = isOther && guess.confidence < SURE_OF_NOISE;
    const isHeld =
      (isMelody && pitch !== null && mayBeNote(range)) ||
      isNearlyNote ||
      (isUnsure && isSustained(mono, sampleRate, startFrame, endFrame));
    return {
      role: isHeld ? 'note' : tonal(guess.role),
      roleConfidence: guess.confidence,
      secondRole: isHeld ? guess.role : tonal(guess.second),
      earsVersion: EARS_VERSION,
      brightnessHz: brightnessOf(energies, startHop, endHop),
      midi: pitch?.midi ?? null,
      cents: pitch?.cents ?? null,
    };
  });
}

/** Roles of ranges, and of the others, as parts of the loop that they make, on the beats of its likeliest tempo. */
function rolesAmong(
  { mono, sampleRate, tempoReadings }: SourceAnalysis,
  ranges: readonly FrameRange[],
  among: readonly FrameRange[],
): Map<FrameRange, HeardRole> {
  const others = among.filter((one) => !ranges.some(({ startFrame }) => startFrame === one.startFrame));
  const all = [...ranges, ...others].sort((a, b) => a.startFrame - b.startFrame);
  const [reading] = tempoReadings;
  const beatsOf = (frame: number) =>
    reading ? ((frame - reading.startFrame) / sampleRate) * (reading.bpm / 60) : null;
  const told = all.map((range) => ({ ...range, beats: beatsOf(range.startFrame) }));
  const heard = hearRoles(mono, sampleRate, told, reading?.beatsPerBar);
  return new Map(all.map((range, place) => [range, heard[place]!]));
}

function isSustained(mono: Float32Array, sampleRate: number, startFrame: number, endFrame: number): boolean {
  const stretch = Math.round(HELD_STRETCH_SECONDS * sampleRate);
  const from = startFrame + Math.round(ATTACK_SECONDS * sampleRate);
  const to = Math.min(endFrame, startFrame + Math.round(HELD_SECONDS * sampleRate), mono.length);
  if (to - from < 3 * stretch) return false;
  const energy = (at: number) => {
    let sum = 1e-12;
    for (let i = at; i < at + stretch; i++) sum += mono[i]! ** 2;
    return sum;
  };
  return 10 * Math.log10(energy(from) / energy(to - stretch)) < HELD_DB;
}

function hopOf(energies: BandEnergies, frame: number): number {
  return Math.round(frame / energies.hopFrames);
}

/** Energy-weighted mean of the band centres over the first 200 ms, in Hz; 0 for silence. */
function brightnessOf(energies: BandEnergies, startHop: number, endHop: number): number {
  const to = Math.min(endHop, startHop + 200, energies.length);
  let weighted = 0;
  let all = 0;
  for (let band = 0; band < BAND_COUNT; band++) {
    const centre = Math.sqrt(BAND_EDGES_HZ[band]! * BAND_EDGES_HZ[band + 1]!);
    let energy = 0;
    for (let hop = startHop; hop < to; hop++) energy += energies.bands[band]![hop]!;
    weighted += Math.sqrt(energy) * centre;
    all += Math.sqrt(energy);
  }
  return all > 0 ? weighted / all : 0;
}
