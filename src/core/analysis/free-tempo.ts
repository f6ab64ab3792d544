/**
 * Reads the tempo of a file that is no trimmed loop: with silence before it, a pickup, a tail. Hits of a steady player
 * lie on a grid of unknown step and place; for each step the strength-weighted sum of `exp(2 pi i t / step)` over the
 * hits is long when they do (a periodogram of a point process: M. S. Bartlett, "The spectral analysis of point
 * processes", J. Royal Statistical Society B 25, 1963).
 */
import type { TempoHit } from './tempo.ts';

export interface FreeTempo {
  bpm: number;
  /** Frame of the first beat. */
  firstBeatFrame: number;
  /** How well sixteenths of this tempo fit the hits, 0..1. */
  fit: number;
}

const SLOWEST_BPM = 62;
const FASTEST_BPM = 186;
/** Ratio between neighbouring tempi that are tried; the best is then refined. */
const TEMPO_STEP = 1.0006;
/** Usual tempo in beats a minute, and how fast the prior falls away from it (per octave squared). */
const USUAL_BPM = 108;
const PRIOR = 1.2;
/** Weights of sixteenths, eighths and quarters. */
const LEVELS: readonly [division: number, weight: number][] = [
  [4, 1],
  [2, 0.7],
  [1, 0.5],
];
/** Weight of the backbeat: kicks and snares that take turns, beat by beat, tell a tempo from its half and double. */
const BACKBEAT = 0.8;
const FEWEST_HITS = 6;
/** Of a long take the beginning is asked: over more, the steps between the tempi that are tried would be too coarse. */
const HEARD_SECONDS = 120;

/** @returns null with fewer hits than asked for in the first two minutes from the first of them */
export function readFreeTempo(
  allHits: readonly TempoHit[],
  sampleRate: number,
  fewestHits = FEWEST_HITS,
): FreeTempo | null {
  const lastFrame = (allHits[0]?.frame ?? 0) + HEARD_SECONDS * sampleRate;
  const hits = allHits.filter((hit) => hit.frame <= lastFrame);
  if (hits.length < fewestHits) return null;
  const times = hits.map((hit) => hit.frame / sampleRate);
  const weights = weightsOf(hits);
  const turns = hits.map((hit) => hit.strength * (hit.kick - hit.snare));
  const drummed = hits.reduce((sum, hit) => sum + hit.strength * Math.abs(hit.kick - hit.snare), 1);
  const score = (bpm: number) => {
    const octaves = Math.log2(bpm / USUAL_BPM);
    const backbeat = vectorLength(times, turns, 120 / bpm) / drummed;
    return LEVELS.reduce(
      (sum, [division, weight]) => sum + weight * alignment(times, weights, 60 / bpm / division).length,
      BACKBEAT * backbeat - PRIOR * octaves ** 2,
    );
  };
  let best = SLOWEST_BPM;
  let bestScore = -Infinity;
  for (let bpm = SLOWEST_BPM; bpm <= FASTEST_BPM; bpm *= TEMPO_STEP) {
    const value = score(bpm);
    if (value > bestScore) {
      bestScore = value;
      best = bpm;
    }
  }
  // Golden-section search within one step (R. Brent, "Algorithms for minimization without derivatives", 1973, ch. 5).
  const golden = (Math.sqrt(5) - 1) / 2;
  let low = best / TEMPO_STEP;
  let high = best * TEMPO_STEP;
  for (let i = 0; i < 30; i++) {
    const a = high - golden * (high - low);
    const b = low + golden * (high - low);
    if (score(a) > score(b)) high = b;
    else low = a;
  }
  return atTempo((low + high) / 2, times, weights, sampleRate);
}

/** The same hits at another tempo: where its beats lie best. */
export function placeBeats(hits: readonly TempoHit[], sampleRate: number, bpm: number): FreeTempo {
  const times = hits.map((hit) => hit.frame / sampleRate);
  return atTempo(bpm, times, weightsOf(hits), sampleRate);
}

const weightsOf = (hits: readonly TempoHit[]) => hits.map((hit) => hit.strength * (1 + hit.kick + hit.snare));

function atTempo(bpm: number, times: readonly number[], weights: readonly number[], sampleRate: number): FreeTempo {
  const beat = 60 / bpm;
  const sixteenths = alignment(times, weights, beat / 4);
  return {
    bpm,
    firstBeatFrame: Math.round(firstBeat(times, weights, beat, sixteenths.phaseSeconds) * sampleRate),
    fit: sixteenths.length,
  };
}

/** Length of the weighted sum of the times on a circle of one period. */
function vectorLength(times: readonly number[], weights: readonly number[], period: number): number {
  let re = 0;
  let im = 0;
  for (let i = 0; i < times.length; i++) {
    const angle = (2 * Math.PI * times[i]!) / period;
    re += weights[i]! * Math.cos(angle);
    im += weights[i]! * Math.sin(angle);
  }
  return Math.hypot(re, im);
}

/** Length (0..1) of the mean vector of the times on a circle of one step, and where on the step it points. */
function alignment(
  times: readonly number[],
  weights: readonly number[],
  step: number,
): { length: number; phaseSeconds: number } {
  let re = 0;
  let im = 0;
  let total = 1e-9;
  for (let i = 0; i < times.length; i++) {
    const angle = (2 * Math.PI * times[i]!) / step;
    re += weights[i]! * Math.cos(angle);
    im += weights[i]! * Math.sin(angle);
    total += weights[i]!;
  }
  const turn = Math.atan2(im, re) / (2 * Math.PI);
  return { length: Math.hypot(re, im) / total, phaseSeconds: ((turn + 1) % 1) * step };
}

/** Of the four sixteenths of a beat the one that carries most; then the first such place at or after the first hit. */
function firstBeat(times: readonly number[], weights: readonly number[], beat: number, phaseSeconds: number): number {
  const carried = [0, 0, 0, 0];
  times.forEach((time, index) => {
    const sixteenth = Math.round(((time - phaseSeconds) / beat) * 4);
    carried[((sixteenth % 4) + 4) % 4]! += weights[index]!;
  });
  const place = carried.indexOf(Math.max(...carried));
  const offset = phaseSeconds + (place * beat) / 4;
  const from = times[0]! - beat / 16;
  return offset + Math.max(0, Math.ceil((from - offset) / beat)) * beat;
}
