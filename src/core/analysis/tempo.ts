/**
 * Reads tempo and bars of a trimmed loop. A loop of B bars of q quarter notes lasts exactly `B q 60 / T` seconds, so
 * only a few tempi are possible: each is an hypothesis, judged by where the hits fall on its grid, by backbeat and
 * downbeat, by whether its bars resemble each other, and by how usual such a tempo and bar count are. The judgement is
 * a conditional logit over the hypotheses (D. McFadden, "Conditional logit analysis of qualitative choice behavior",
 * 1974), its few weights learned from labelled loops.
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

/** Slowest and fastest tempo that is read by itself. */
export const SLOWEST_BPM = 55;
export const FASTEST_BPM = 200;
const BAR_COUNTS = [1, 2, 3, 4, 6, 8, 12, 16] as const;
/** So many readings are always given, however unlikely the last: one of them is the one that is meant. */
const MIN_READINGS = 5;
/** Further readings are listed when they are this likely. */
export const MIN_CONFIDENCE = 0.002;

/**
 * All readings of a loop, the likeliest first.
 * @param hits hits from the loop's start, in frames
 * @param loopFrames exact length of the loop
 * @param atLeast so many are given, however unlikely
 * @returns an empty list when no bar count gives a usual tempo (shorter than about 0.9 s)
 */
export function readLoopTempo(
  hits: readonly TempoHit[],
  loopFrames: number,
  sampleRate: number,
  atLeast = MIN_READINGS,
): TempoReading[] {
  const readings: { reading: TempoReading; score: number }[] = [];
  for (const beatsPerBar of [4, 3]) {
    for (const bars of BAR_COUNTS) {
      const bpm = loopTempoBpm(bars, beatsPerBar, loopFrames, sampleRate);
      if (bpm < SLOWEST_BPM || bpm > FASTEST_BPM) continue;
      const score = likelihoodOf(hits, loopFrames, sampleRate, bars, beatsPerBar);
      readings.push({ reading: { bpm, bars, beatsPerBar, confidence: 0, startFrame: 0, endFrame: loopFrames }, score });
    }
  }
  const top = Math.max(...readings.map(({ score }) => score));
  const total = readings.reduce((sum, { score }) => sum + Math.exp(score - top), 0);
  return readings
    .sort((a, b) => b.score - a.score)
    .map(({ reading, score }) => ({ ...reading, confidence: Math.exp(score - top) / total }))
    .filter((reading, index) => index < atLeast || reading.confidence >= MIN_CONFIDENCE);
}

/**
 * How likely it is that a loop has so many bars: a logarithm, against that of other readings of the same hits.
 * @param hits from the loop's start, in frames
 */
export function likelihoodOf(
  hits: readonly TempoHit[],
  loopFrames: number,
  sampleRate: number,
  bars: number,
  beatsPerBar: number,
): number {
  const features = hypothesisFeatures(hits, loopFrames, sampleRate, bars, beatsPerBar);
  return features.reduce((sum, value, index) => sum + value * TEMPO_WEIGHTS[index]!, 0);
}

/** Hits a beat as they are usual; and of fewer snares in all than this nothing is said. */
const USUAL_HITS = 2.4;
const FEWEST_SNARES = 0.6;

/** Weights of {@link hypothesisFeatures}, learned: see docs/analysis.md. */
// prettier-ignore
export const TEMPO_WEIGHTS: readonly number[] = [-3.174, -1.64, -0.105, -0.231, -1.832, -1.942, 2.173, 0.936, 0.679, -0.012, 2.25, 0.802, 1.373, -0.46, -1.755, -0.036, 0.946];

/** What speaks for and against one bar count and metre; all numbers are about 0..1. */
export function hypothesisFeatures(
  hits: readonly TempoHit[],
  loopFrames: number,
  sampleRate: number,
  bars: number,
  beatsPerBar: number,
): number[] {
  const beats = bars * beatsPerBar;
  const framesPerBeat = loopFrames / beats;
  const octavesFromUsual = Math.log2((60 * sampleRate) / framesPerBeat / 108);
  const onGrid = (division: number) => gridShare(hits, framesPerBeat / division, sampleRate);
  return [
    octavesFromUsual ** 2,
    Math.max(0, octavesFromUsual),
    bars === 1 ? 1 : 0,
    bars >= 8 ? 1 : 0,
    [1, 2, 4, 8, 16].includes(bars) ? 0 : 1,
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
function barLikeness(hits: readonly TempoHit[], framesPerBeat: number, beatsPerBar: number, bars: number): number {
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
