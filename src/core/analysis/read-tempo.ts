/**
 * Tempo, bars and place of a loop in its file: of all that they may be (tempo-places.ts) the likeliest. What speaks for each
 * is what its bars tell (tempo.ts), how well the hits lie on its grid, and what of the file it leaves out. The judgement is a
 * conditional logit (D. McFadden, "Conditional logit analysis of qualitative choice behavior", 1974), its few weights learned
 * from labelled loops.
 */
import { isOdd } from './odd-metres.ts';
import { barFeatures, type TempoHit, type TempoReading } from './tempo.ts';
import { MAX_BARS, SAME_TEMPO, tempoPlaces, type TempoPlace } from './tempo-places.ts';

/** Weights of {@link placeFeatures}, learned: see docs/analysis.md. */
// prettier-ignore
export const TEMPO_WEIGHTS: readonly number[] = [-3.513, -2.038, -1.087, 0.021, -2.895, -2.563, 1.976, 0.925, 0.403, -0.479, 2.662, 2.121, 2.227, -0.355, -1.646, 0.188, 0.645, -1.018, 1.757, 1.579, -0.761, -0.473, -0.369, -1.322, -3.285, -0.512, -1.252, -0.117, 0.797];
/** Loops in five and seven are rare: added to the score of such a place. From 0 to -1 no answer of the loops in docs/analysis.md changes. */
const ODD_SCORE = -1;

/** So many readings are always given, however unlikely the last: one of them is the one that is meant. */
const MIN_READINGS = 5;
/** Further readings are listed when they are this likely. */
const MIN_CONFIDENCE = 0.002;
/** Half and double that no reader thought of: shown between these tempi, as this much less sure than what they halve. */
const MIN_BPM = 40;
const MAX_BPM = 300;
const OCTAVE_CONFIDENCE = 0.5;
const FLAM_SECONDS = 0.045;
/** A hit that is this early is the first of its bar. */
const EARLY_SECONDS = 0.03;
/** Sixteenths, and twelfths of a beat for what goes in triplets. */
const DIVISIONS = [4, 3] as const;
/** A loop that begins with a hit does so within the first of these; in the second a pause has begun. */
const FIRST_SECONDS = 0.06;
const PAUSE_SECONDS = 0.4;
/** Less than this at an end of the file is not left out on purpose. */
const START_SECONDS = 0.05;
const TAIL_SECONDS = 0.15;
const WHOLE_SECONDS = 0.02;

/**
 * All readings, the likeliest first, its half and double among them.
 * @param hits in the file, in frames
 * @param frames length of the file
 * @returns an empty list for sounds too short for a bar and without enough hits
 */
export function readTempo(hits: readonly TempoHit[], frames: number, sampleRate: number): TempoReading[] {
  return withHalfAndDouble(likelyReadings(hits, frames, sampleRate));
}

/** The likeliest reading's half and double, where they are whole bars and missing, come right after it. */
function withHalfAndDouble(readings: readonly TempoReading[]): TempoReading[] {
  const [best, ...others] = readings;
  if (!best) return [];
  const missing = [0.5, 2]
    .map((factor) => ({
      ...best,
      bpm: best.bpm * factor,
      bars: best.bars * factor,
      confidence: best.confidence * OCTAVE_CONFIDENCE,
    }))
    .filter(
      ({ bpm, bars }) =>
        Number.isInteger(bars) &&
        bars <= MAX_BARS &&
        bpm >= MIN_BPM &&
        bpm <= MAX_BPM &&
        !others.some((other) => other.bars === bars && Math.abs(other.bpm / bpm - 1) < SAME_TEMPO),
    );
  return [best, ...missing, ...others];
}

function likelyReadings(all: readonly TempoHit[], frames: number, sampleRate: number): TempoReading[] {
  const hits = withoutFlams(all, sampleRate);
  const judged = tempoPlaces(hits, frames, sampleRate).map((place) => ({
    place,
    score:
      scored(placeFeatures(place, hits, frames, sampleRate), TEMPO_WEIGHTS) +
      (isOdd(place.beatsPerBar) ? ODD_SCORE : 0),
  }));
  judged.sort((a, b) => b.score - a.score);
  const top = judged[0]?.score ?? 0;
  const total = judged.reduce((sum, { score }) => sum + Math.exp(score - top), 0);
  return judged
    .map(({ place, score }) => ({ ...place, confidence: Math.exp(score - top) / total }))
    .filter((one, index, list) => !list.slice(0, index).some((better) => readsTheSame(one, better)))
    .filter((one, index) => index < MIN_READINGS || one.confidence >= MIN_CONFIDENCE);
}

export function scored(features: readonly number[], weights: readonly number[]): number {
  return features.reduce((sum, value, index) => sum + value * weights[index]!, 0);
}

/** The same words would stand for both: as many bars at the same tempo. */
function readsTheSame(a: TempoPlace, b: TempoPlace): boolean {
  return a.bars === b.bars && a.beatsPerBar === b.beatsPerBar && Math.abs(a.bpm / b.bpm - 1) < SAME_TEMPO;
}

/** Strokes of a flam are one hit: where it begins, as strong as its strongest. */
export function withoutFlams(hits: readonly TempoHit[], sampleRate: number): TempoHit[] {
  const found: TempoHit[] = [];
  for (const hit of hits) {
    const last = found.at(-1);
    if (last && hit.frame - last.frame < FLAM_SECONDS * sampleRate) {
      found[found.length - 1] = { ...hit, strength: Math.max(hit.strength, last.strength) };
    } else found.push(hit);
  }
  return found;
}

/**
 * What speaks for and against a tempo at a place of the file; all numbers are about 0..1.
 * @param hits in the file, in frames, flams as one hit
 */
export function placeFeatures(
  place: TempoPlace,
  hits: readonly TempoHit[],
  frames: number,
  sampleRate: number,
): number[] {
  const { bpm, bars, beatsPerBar, startFrame, endFrame } = place;
  const fromFrame = startFrame - EARLY_SECONDS * sampleRate;
  const isInside = ({ frame }: TempoHit) => frame > fromFrame && frame < endFrame;
  const inside = hits.filter(isInside).map((hit) => ({ ...hit, frame: hit.frame - startFrame }));
  const lengthFrames = endFrame - startFrame;
  const firstSeconds = Math.max(0, inside[0]?.frame ?? sampleRate) / sampleRate;
  const emptyBars = ((lengthFrames - (inside.at(-1)?.frame ?? 0)) * bpm) / (60 * sampleRate * beatsPerBar);
  const startSeconds = startFrame / sampleRate;
  const tailSeconds = (frames - endFrame) / sampleRate;
  const shareOf = (left: readonly TempoHit[]) => strengthOf(left) / (strengthOf(hits) || 1);
  return [
    ...barFeatures(inside, lengthFrames, sampleRate, bars, beatsPerBar),
    startFrame > 0 || endFrame < frames ? 1 : 0,
    gridFit(hits, sampleRate, bpm, startFrame),
    gridFit(hits, sampleRate, bpm, null),
    Math.min(1, firstSeconds / FIRST_SECONDS),
    Math.min(1, firstSeconds / PAUSE_SECONDS),
    shareOf(hits.filter(({ frame }) => frame <= fromFrame)),
    hits[0] && hits[0].frame <= fromFrame ? 1 : 0,
    shareOf(hits.filter(({ frame }) => frame >= endFrame)),
    Math.min(1, emptyBars),
    Math.min(1, tailSeconds / TAIL_SECONDS),
    Math.min(1, startSeconds / START_SECONDS),
    startSeconds < WHOLE_SECONDS && tailSeconds < WHOLE_SECONDS ? 1 : 0,
  ];
}

const strengthOf = (hits: readonly TempoHit[]) => hits.reduce((sum, { strength }) => sum + strength, 0);

/**
 * How well hits lie on the sixteenths of a tempo, or on its twelfths, -1..1 (see free-tempo.ts).
 * @param startFrame a frame on which a line lies; null: wherever the grid lies best
 */
function gridFit(hits: readonly TempoHit[], sampleRate: number, bpm: number, startFrame: number | null): number {
  const fits = DIVISIONS.map((division) => {
    const step = (60 * sampleRate) / bpm / division;
    let [re, im, total] = [0, 0, 1e-9];
    for (const { frame, strength, kick, snare } of hits) {
      const weight = strength * (1 + kick + snare);
      const angle = (2 * Math.PI * (frame - (startFrame ?? 0))) / step;
      re += weight * Math.cos(angle);
      im += weight * Math.sin(angle);
      total += weight;
    }
    return (startFrame === null ? Math.hypot(re, im) : re) / total;
  });
  return Math.max(...fits);
}
