/**
 * What the hits of a loop tell of so many bars in its length: where they fall on its grid, backbeat and downbeat, whether
 * its bars resemble each other, and how usual such a tempo and bar count are.
 */
import { loopTempoBpm } from '../units/time.ts';

/** A hit as the tempo reader needs it. */
export interface TempoHit {
  frame: number;
  /** 0..1 */
  strength: number;
  /** Likelihood that it is a snare or clap, 0..1. */
  snare: number;
  /** Likelihood that it is a kick, 0..1. */
  kick: number;
}

/** One reading of a loop. `beatsPerBar` counts quarter notes: 4, or 3 in 3/4 and 6/8. */
export interface TempoReading {
  bpm: number;
  bars: number;
  beatsPerBar: number;
  /** Likelihood among all readings, 0..1. */
  confidence: number;
  /** Where in the file the loop lies, half-open: all of it when the file is trimmed. */
  startFrame: number;
  endFrame: number;
}

const USUAL_BPM = 108;
/** What is longer is no loop but a take: that has as many bars as it has. */
export const LONGEST_LOOP_BARS = 12;
/** Hits a beat as they are usual; and of fewer snares in all than this nothing is said. */
const USUAL_HITS = 2.4;
const FEWEST_SNARES = 0.6;

/**
 * What speaks for and against one bar count and metre; all numbers are about 0..1.
 * @param hits from the loop's start, in frames
 */
export function barFeatures(
  hits: readonly TempoHit[],
  loopFrames: number,
  sampleRate: number,
  bars: number,
  beatsPerBar: number,
): number[] {
  const beats = bars * beatsPerBar;
  const framesPerBeat = loopFrames / beats;
  const octavesFromUsual = Math.log2(loopTempoBpm(bars, beatsPerBar, loopFrames, sampleRate) / USUAL_BPM);
  const onGrid = (division: number) => gridShare(hits, framesPerBeat / division, sampleRate);
  return [
    octavesFromUsual ** 2,
    Math.max(0, octavesFromUsual),
    bars === 1 ? 1 : 0,
    bars >= 8 ? 1 : 0,
    bars > LONGEST_LOOP_BARS || [1, 2, 4, 8, 16].includes(bars) ? 0 : 1,
    beatsPerBar === 3 ? 1 : 0,
    onGrid(4),
    onGrid(2),
    onGrid(1),
    onGrid(3),
    backbeatShare(hits, framesPerBeat, beatsPerBar),
    downbeatShare(hits, framesPerBeat, beatsPerBar, bars),
    barLikeness(hits, framesPerBeat, beatsPerBar, bars),
    ...density(hits, beats),
    turnsOf(hits, framesPerBeat),
  ];
}

/** Octaves from so many hits a beat, squared, and how far above it; octaves from a snare every other beat. */
function density(hits: readonly TempoHit[], beats: number): number[] {
  let [all, snares] = [0, 0];
  for (const { strength, snare } of hits) {
    all += strength;
    snares += strength * snare;
  }
  const octaves = Math.log2((all + 0.2) / beats / USUAL_HITS);
  const ofSnares = snares < FEWEST_SNARES ? 1 : Math.abs(Math.log2((snares / beats) * 2));
  return [octaves ** 2, Math.max(0, octaves), Math.min(2, ofSnares)];
}

/** How well kicks and snares take turns, beat by beat, 0..1. */
function turnsOf(hits: readonly TempoHit[], framesPerBeat: number): number {
  let [re, im, all] = [0, 0, 0.5];
  for (const { frame, strength, kick, snare } of hits) {
    const weight = strength * (kick - snare);
    const angle = (Math.PI * frame) / framesPerBeat;
    re += weight * Math.cos(angle);
    im += weight * Math.sin(angle);
    all += Math.abs(weight);
  }
  return Math.hypot(re, im) / all;
}

/** Share of the strength of all hits that lies on a grid, less what chance would give. */
function gridShare(hits: readonly TempoHit[], stepFrames: number, sampleRate: number): number {
  const reach = Math.min(0.03 * sampleRate, stepFrames * 0.22);
  const chance = (2 * reach) / stepFrames;
  let on = 0;
  let all = 0;
  for (const hit of hits) {
    const off = Math.abs(hit.frame - Math.round(hit.frame / stepFrames) * stepFrames);
    all += hit.strength;
    if (off <= reach) on += hit.strength;
  }
  return all > 0 ? (on / all - chance) / (1 - chance) : 0;
}

/** Share of snare strength on the second and fourth beat (in three, the second and third). */
function backbeatShare(hits: readonly TempoHit[], framesPerBeat: number, beatsPerBar: number): number {
  let on = 0;
  let all = 0;
  for (const hit of hits) {
    const beat = hit.frame / framesPerBeat;
    const nearest = Math.round(beat);
    const weight = hit.snare * hit.strength;
    all += weight;
    const place = nearest % beatsPerBar;
    const isBackbeat = beatsPerBar === 4 ? place === 1 || place === 3 : place !== 0;
    if (Math.abs(beat - nearest) < 0.08 && isBackbeat) on += weight;
  }
  return all > 0.3 ? on / all : 0.5;
}

/** Share of bars that begin with a kick or, failing kicks, with any hit. */
function downbeatShare(hits: readonly TempoHit[], framesPerBeat: number, beatsPerBar: number, bars: number): number {
  let found = 0;
  for (let bar = 0; bar < bars; bar++) {
    const at = bar * beatsPerBar * framesPerBeat;
    let best = 0;
    for (const hit of hits) {
      if (Math.abs(hit.frame - at) < framesPerBeat * 0.1) best = Math.max(best, hit.strength * (0.3 + 0.7 * hit.kick));
    }
    found += best;
  }
  return found / bars;
}

/** How alike the hits of neighbouring bars are: shared strength on sixteenths over all strength; 0.5 for one bar. */
export function barLikeness(
  hits: readonly TempoHit[],
  framesPerBeat: number,
  beatsPerBar: number,
  bars: number,
): number {
  if (bars === 1) return 0.5;
  const steps = beatsPerBar * 4;
  const grid = new Float64Array(bars * steps * 2);
  for (const hit of hits) {
    const step = Math.round((hit.frame / framesPerBeat) * 4);
    if (step < bars * steps) {
      grid[step * 2]! += hit.strength * (1 - hit.kick);
      grid[step * 2 + 1]! += hit.strength * hit.kick;
    }
  }
  let shared = 0;
  let all = 1e-9;
  for (let i = steps * 2; i < grid.length; i++) {
    shared += Math.min(grid[i]!, grid[i - steps * 2]!);
    all += Math.max(grid[i]!, grid[i - steps * 2]!);
  }
  return shared / all;
}
