/** Breaks in a long recording: where drums play alone, or anything goes round, and the loop of whole bars that is best there. */
import { AppError } from '../../units/errors.ts';
import { within, type Steps } from '../../units/steps.ts';
import { placeBeats, readFreeTempo, type FreeTempo } from '../free-tempo.ts';
import { readTempo } from '../read-tempo.ts';
import { barStarts } from '../tempo-places.ts';
import type { TempoHit } from '../tempo.ts';
import { hearHits, type HeardHit } from './hear-hits.ts';
import { othersIn } from './others.ts';
import { BandCourse, type Seam } from './seam.ts';
import { findStretches, type Stretch } from './stretches.ts';

export interface BreakWish {
  /** Drums alone, or all that goes round. */
  lookFor: 'drums' | 'loops';
  /** Lengths of loops that are wanted. */
  bars: readonly number[];
  fromBpm: number;
  toBpm: number;
  /** Of drums alone: how much may be something else, 0..1. */
  mostOthers: number;
  /** How seamless a loop has to be, 0..1. */
  leastSeamless: number;
}

export const DEFAULT_BREAK_WISH: BreakWish = {
  lookFor: 'drums',
  bars: [1, 2, 4],
  fromBpm: 60,
  toBpm: 190,
  mostOthers: 0.25,
  leastSeamless: 0.3,
};

/** A loop that was found. */
export interface FoundBreak extends Seam {
  startFrame: number;
  endFrame: number;
  bars: number;
  beatsPerBar: number;
  bpm: number;
  /** Where its hits begin, in frames of the recording. */
  hitFrames: number[];
  /** Where it goes on so: the loop is the best of it. */
  stretch: { startFrame: number; endFrame: number; bars: number };
  /** How much of what sounds is something else, 0..1. */
  others: number;
}

/** Hits of a steady player lie on a grid at least so well (see free-tempo.ts). */
const LEAST_FIT = 0.5;
/** Hits are asked for their pulse so far around each, in seconds. */
const PULSE_SECONDS = 2.5;
const PULSE_EVERY_SECONDS = 0.5;
/** Half of what has this fit is steady; and how surely so beyond it. */
const EVEN_FIT = 0.42;
const FIT_SLOPE = 25;
/** A hit so near to where the loop should end is its end, as a share of a bar and in seconds. */
const END_SHARE = 0.02;
const END_SECONDS = 0.04;
/** A loop twice as long is worth so much less seamlessness. */
const WORTH_OF_LENGTH = 0.04;
/** What goes on lies so near to the grid of sixteenths, follows within so many beats, and is a drum. */
const STEPS_A_BEAT = 4;
const ON_GRID_SECONDS = 0.02;
const LONGEST_REST_BEATS = 2.5;
const DRUM = 0.75;
/** What one hit beside the grid speaks against it, and where nobody looks farther, in nepers. */
const AGAINST = 2.5;
const GIVE_UP = 12;
/** A loop that begins with a kick drum more likely begins with its bar. */
const WORTH_OF_KICK = 0.1;
/** So does one that begins with the playing. */
const WORTH_OF_FIRST = 0.03;
const FEWEST_HITS = 6;
const LONGEST_SECONDS = 4 * 3600;

/**
 * Steps yield the share done.
 * @returns the most seamless first
 * @throws AppError `input.refused` for a wish for nothing, or a recording of over four hours
 */
export function* findBreaks(signal: Float32Array, sampleRate: number, wish: BreakWish): Steps<FoundBreak[]> {
  if (wish.bars.length === 0) throw new AppError('input.refused', 'choose at least one length of loops in bars');
  if (!(wish.fromBpm < wish.toBpm)) {
    throw new AppError(
      'input.refused',
      `tempi from ${wish.fromBpm} to ${wish.toBpm} bpm are none: the first is to be the lower one`,
    );
  }
  if (signal.length > LONGEST_SECONDS * sampleRate) {
    throw new AppError('input.refused', 'this recording is longer than four hours: cut it into pieces first');
  }
  const hits = yield* within(hearHits(signal, sampleRate), 0, 0.8);
  const pulses = pulseShares(hits, sampleRate);
  // Applause is all drums, too.
  const wanted = wish.lookFor === 'loops' ? pulses : hits.map(({ drums }, place) => Math.min(drums, pulses[place]!));
  const found: FoundBreak[] = [];
  const waiting = findStretches(hits, wanted, sampleRate).map((stretch) => ({ ...stretch }));
  for (let stretch = waiting.pop(); stretch; stretch = waiting.pop()) {
    yield 1 - (0.2 * stretch.endHit) / hits.length;
    const steady = steadiest(hits, stretch, sampleRate, wish.lookFor);
    if (!steady) continue;
    const best = bestLoop(signal, sampleRate, hits, steady, wish);
    if (best && isWanted(best, wish)) found.push(best);
    // What lies beside it may be another, in another tempo.
    const before = { firstHit: stretch.firstHit, endHit: steady.firstHit };
    const after = { firstHit: steady.endHit, endHit: stretch.endHit };
    waiting.push(...[before, after].filter(({ firstHit, endHit }) => endHit - firstHit >= FEWEST_HITS));
  }
  return found.sort((a, b) => worth(b) - worth(a));
}

function isWanted({ others, seamless }: FoundBreak, { lookFor, mostOthers, leastSeamless }: BreakWish): boolean {
  return seamless >= leastSeamless && (lookFor === 'loops' || others <= mostOthers);
}

const worth = ({ seamless, bars }: Pick<FoundBreak, 'seamless' | 'bars'>) =>
  seamless + WORTH_OF_LENGTH * Math.log2(bars);

function tempoHits(hits: readonly HeardHit[]): TempoHit[] {
  return hits.map(({ attackFrame, strength, snare, kick }) => ({ frame: attackFrame, strength, snare, kick }));
}

/** How much the hits around each speak for a steady pulse, 0..1. */
function pulseShares(hits: readonly HeardHit[], sampleRate: number): number[] {
  const half = PULSE_SECONDS * sampleRate;
  const shares: number[] = [];
  let [first, end, known, nextFrame] = [0, 0, 0, -Infinity];
  for (const { frame } of hits) {
    if (frame >= nextFrame) {
      while (hits[first]!.frame < frame - half) first++;
      while (end < hits.length && hits[end]!.frame < frame + half) end++;
      const fit = readFreeTempo(tempoHits(hits.slice(first, end)), sampleRate)?.fit ?? 0;
      known = 1 / (1 + Math.exp(-FIT_SLOPE * (fit - EVEN_FIT)));
      nextFrame = frame + PULSE_EVERY_SECONDS * sampleRate;
    }
    shares.push(known);
  }
  return shares;
}

function bestLoop(
  signal: Float32Array,
  sampleRate: number,
  hits: readonly HeardHit[],
  { firstHit, endHit }: Stretch,
  wish: BreakWish,
): FoundBreak | null {
  const own = hits.slice(firstHit, endHit);
  const startFrame = own[0]!.attackFrame;
  const endFrame = hits[endHit]?.attackFrame ?? signal.length;
  const relative = tempoHits(own).map((hit) => ({ ...hit, frame: hit.frame - startFrame }));
  const reading = readTempo(relative, endFrame - startFrame, sampleRate).find(
    ({ bpm }) => bpm >= wish.fromBpm && bpm <= wish.toBpm,
  );
  if (!reading) return null;
  const { beatsPerBar } = reading;
  const barFrames = (beatsPerBar * 60 * sampleRate) / reading.bpm;
  const reach = Math.max(END_SECONDS * sampleRate, END_SHARE * barFrames);
  const inBars = Math.floor((endFrame - startFrame + reach) / barFrames);
  if (inBars < 1) return null;
  const from = Math.max(0, own[0]!.frame);
  const to = Math.min(signal.length, endFrame + sampleRate);
  const course = new BandCourse(signal.subarray(from, to), sampleRate);
  const attacks = hits.slice(firstHit, endHit + 1);
  const nearest = (frame: number) => nearestHit(attacks, frame, reach);
  let best: FoundBreak | null = null;
  let bestRank = -Infinity;
  const phases = [0];
  const beats = placeBeats(relative, sampleRate, reading.bpm);
  for (const start of [reading.startFrame, ...barStarts(relative, sampleRate, beats, beatsPerBar)]) {
    const phase = start % barFrames;
    if (phases.every((one) => Math.abs(one - phase) > reach)) phases.push(phase);
  }
  for (const [bars, phase, bar] of wish.bars.flatMap((count) => placesOf(count, phases, inBars))) {
    const first = nearest(startFrame + phase + bar * barFrames);
    if (!first || first.attackFrame + bars * barFrames > endFrame + reach) continue;
    const last = nearest(first.attackFrame + bars * barFrames);
    // What is cut goes from just before one attack to just before the other.
    const length = last ? last.attackFrame - first.attackFrame : Math.round(bars * barFrames);
    const start = first.frame;
    const end = Math.min(signal.length, start + length);
    const seam = course.seam(start - from, end - from);
    const one = {
      ...seam,
      startFrame: start,
      endFrame: end,
      bars,
      beatsPerBar,
      bpm: (60 * sampleRate * bars * beatsPerBar) / (end - start),
      stretch: { startFrame: own[0]!.frame, endFrame, bars: inBars },
      hitFrames: own.filter(({ frame }) => frame >= start && frame < end).map(({ frame }) => frame),
      others: 0,
    };
    const rank = worth(one) + WORTH_OF_KICK * first.kick + (phase === 0 ? WORTH_OF_FIRST : 0);
    if (!best || rank > bestRank + 1e-9) [best, bestRank] = [one, rank];
  }
  return best && { ...best, others: othersIn(signal, sampleRate, own, best.startFrame, best.endFrame) };
}

/** Where loops of so many bars may begin: phases of the bar line, and bars. */
function placesOf(
  bars: number,
  phases: readonly number[],
  inBars: number,
): [bars: number, phase: number, bar: number][] {
  return phases.flatMap((phase) =>
    Array.from({ length: Math.max(0, inBars - bars + 1) }, (_, bar): [number, number, number] => [bars, phase, bar]),
  );
}

/** The part of a stretch about the moment with the clearest pulse over which that pulse goes on; null where none is clear. */
function steadiest(
  hits: readonly HeardHit[],
  stretch: Stretch,
  sampleRate: number,
  lookFor: BreakWish['lookFor'],
): Stretch | null {
  const half = PULSE_SECONDS * sampleRate;
  let best: { stretch: Stretch; pulse: FreeTempo } | null = null;
  let nextFrame = -Infinity;
  for (let place = stretch.firstHit; place < stretch.endHit; place++) {
    const { frame } = hits[place]!;
    if (frame < nextFrame) continue;
    nextFrame = frame + PULSE_EVERY_SECONDS * sampleRate;
    let [firstHit, endHit] = [place, place + 1];
    while (firstHit > stretch.firstHit && hits[firstHit - 1]!.frame > frame - half) firstHit--;
    while (endHit < stretch.endHit && hits[endHit]!.frame < frame + half) endHit++;
    const pulse = readFreeTempo(tempoHits(hits.slice(firstHit, endHit)), sampleRate);
    if (pulse && (!best || pulse.fit > best.pulse.fit)) best = { stretch: { firstHit, endHit }, pulse };
  }
  if (!best || best.pulse.fit < LEAST_FIT) return null;
  return extended(hits, best.stretch, best.pulse, sampleRate, lookFor);
}

/**
 * How much farther the playing goes than what is surely of it: hit by hit each that lies on the grid, and is a drum where
 * those are looked for, speaks for it, by how seldom others would, and each that does not against it.
 */
function extended(
  hits: readonly HeardHit[],
  { firstHit, endHit }: Stretch,
  { bpm, firstBeatFrame }: FreeTempo,
  sampleRate: number,
  lookFor: BreakWish['lookFor'],
): Stretch {
  const beatFrames = (60 * sampleRate) / bpm;
  const step = beatFrames / STEPS_A_BEAT;
  const near = Math.min(ON_GRID_SECONDS * sampleRate, step / 4);
  const speaks = (hit: HeardHit) => {
    const steps = (hit.attackFrame - firstBeatFrame) / step;
    const isOnGrid = Math.abs(steps - Math.round(steps)) * step < near;
    return isOnGrid && (lookFor === 'loops' || hit.drums > DRUM) ? Math.log(step / (2 * near)) : -AGAINST;
  };
  const reach = (from: number, way: 1 | -1) => {
    let [sum, best, at] = [0, 0, from];
    for (let place = from + way; place >= 0 && place < hits.length && sum > -GIVE_UP; place += way) {
      if (Math.abs(hits[place]!.frame - hits[place - way]!.frame) > LONGEST_REST_BEATS * beatFrames) break;
      sum += speaks(hits[place]!);
      if (sum > best) [best, at] = [sum, place];
    }
    return at;
  };
  return { firstHit: reach(firstHit, -1), endHit: reach(endHit - 1, 1) + 1 };
}

function nearestHit(hits: readonly HeardHit[], frame: number, reach: number): HeardHit | null {
  let best: HeardHit | null = null;
  for (const hit of hits) {
    const apart = Math.abs(hit.attackFrame - frame);
    if (apart <= reach && (!best || apart < Math.abs(best.attackFrame - frame))) best = hit;
  }
  return best;
}
