/**
 * Tempo, bars and place of a loop in its file. A file that is a trimmed loop is read by its length (tempo.ts); the hits
 * alone are asked beside it (free-tempo.ts): they may tell which of the readings is right, or that the file has silence, a
 * pickup or a tail around the loop.
 */
import { loopLengthFrames } from '../units/time.ts';
import { placeBeats, readFreeTempo, type FreeTempo } from './free-tempo.ts';
import { FASTEST_BPM, likelihoodOf, readLoopTempo, SLOWEST_BPM, type TempoHit, type TempoReading } from './tempo.ts';

/** The hits' own tempo counts where they fit its grid this well, and better by so much than one by length. */
const MIN_FIT = 0.65;
const CLEARLY_BETTER = 0.12;
/** A reading by length that fits nearly as well, and is not out of the question, is preferred. */
const NEARLY_AS_GOOD = 0.05;
const LIKELY_ENOUGH = 0.02;
/** Sixteenths, and twelfths of a beat for what goes in triplets. */
const DIVISIONS = [4, 3] as const;
const FLAM_SECONDS = 0.045;
const START_SECONDS = 0.02;
const LONE_SECONDS = 0.3;
const DRUM = 0.3;
/** Two tempi nearer than this are the same. */
const SAME_TEMPO = 0.004;
const MAX_BARS = 64;
/** As many tempi that the hits would fit are told. */
const MOST_PLACED = 2;
/** What fits the hits may be the tempo itself, or one of these times it. */
const FACTORS = [1, 0.5, 2, 2 / 3, 1.5, 0.75, 4 / 3] as const;
/** A hit that is this early is the first of its bar. */
const EARLY_SECONDS = 0.03;
/** Half and double that no reader thought of: shown between these tempi, as this much less sure than what they halve. */
const MIN_BPM = 40;
const MAX_BPM = 300;
const OCTAVE_CONFIDENCE = 0.5;

/**
 * All readings, the likeliest first, its half and double among them.
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

/**
 * The hits alone are asked. Where their own grid fits clearly better than that of the likeliest reading by length,
 * one by length that fits as well is taken, or else theirs: the file is then no trimmed loop.
 */
function likelyReadings(all: readonly TempoHit[], frames: number, sampleRate: number): TempoReading[] {
  const byLength = readLoopTempo(all, frames, sampleRate);
  const hits = withoutNoiseAtStart(withoutFlams(all, sampleRate), sampleRate);
  const [best] = byLength;
  const lengthFit = best ? fitOf(hits, sampleRate, best.bpm, true) : 0;
  // No other grid could fit clearly better than this one.
  if (lengthFit > 1 - CLEARLY_BETTER) return byLength;
  const free = readFreeTempo(hits, sampleRate);
  if (!free) return byLength;
  const placed = placedReadings(free, hits, frames, sampleRate).slice(0, MOST_PLACED);
  if (!best) return placed;
  const freeFit = fitOf(hits, sampleRate, free.bpm, false);
  if (freeFit < MIN_FIT) return byLength;
  if (freeFit - lengthFit < CLEARLY_BETTER) return withSecond(byLength, placed[0]);
  const likely = byLength.filter(({ confidence }) => confidence > LIKELY_ENOUGH);
  const isSame = (bpm: number, other: number) => Math.abs(bpm / other - 1) < SAME_TEMPO;
  const agreeing =
    likely.find(({ bpm }) => isSame(bpm, free.bpm)) ??
    // What the hits' bars tell of their tempo comes to the same.
    likely.find(({ bpm }) => placed[0] && isSame(bpm, placed[0].bpm)) ??
    likely.find(({ bpm }) => fitOf(hits, sampleRate, bpm, true) > freeFit - NEARLY_AS_GOOD);
  if (agreeing) return [agreeing, ...byLength.filter((reading) => reading !== agreeing)];
  return [...placed, ...byLength];
}

/** What the hits say stands beside what the length says, where that is another tempo. */
function withSecond([best, ...others]: readonly TempoReading[], placed: TempoReading | undefined): TempoReading[] {
  const isKnown = [best!, ...others].some(({ bpm }) => placed && Math.abs(bpm / placed.bpm - 1) < SAME_TEMPO);
  return placed && !isKnown ? [best!, placed, ...others] : [best!, ...others];
}

/** Strokes of a flam are one hit: where it begins, as strong as its strongest. */
function withoutFlams(hits: readonly TempoHit[], sampleRate: number): TempoHit[] {
  const found: TempoHit[] = [];
  for (const hit of hits) {
    const last = found.at(-1);
    if (last && hit.frame - last.frame < FLAM_SECONDS * sampleRate) {
      found[found.length - 1] = { ...hit, strength: Math.max(hit.strength, last.strength) };
    } else found.push(hit);
  }
  return found;
}

/** Noise that begins with the file is no hit: one at its very start that is no drum, long before the next. */
function withoutNoiseAtStart(hits: readonly TempoHit[], sampleRate: number): readonly TempoHit[] {
  const [first, second] = hits;
  if (!first || !second) return hits;
  const isAtStart = first.frame <= START_SECONDS * sampleRate && second.frame > LONE_SECONDS * sampleRate;
  return isAtStart && Math.max(first.kick, first.snare) < DRUM ? hits.slice(1) : hits;
}

/**
 * How well hits lie on the sixteenths of a tempo, or on its twelfths, 0..1 (see free-tempo.ts).
 * @param fromStart with a line at the file's first frame; else wherever the grid lies best
 */
function fitOf(hits: readonly TempoHit[], sampleRate: number, bpm: number, fromStart: boolean): number {
  const fits = DIVISIONS.map((division) => {
    const step = (60 * sampleRate) / bpm / division;
    let [re, im, total] = [0, 0, 1e-9];
    for (const { frame, strength, kick, snare } of hits) {
      const weight = strength * (1 + kick + snare);
      const angle = (2 * Math.PI * frame) / step;
      re += weight * Math.cos(angle);
      im += weight * Math.sin(angle);
      total += weight;
    }
    return (fromStart ? re : Math.hypot(re, im)) / total;
  });
  return Math.max(...fits);
}

/**
 * Hits lie on the grids of several tempi: which of them it is, bars tell, as they do where a loop is trimmed. The likeliest
 * first.
 */
function placedReadings(
  free: FreeTempo,
  hits: readonly TempoHit[],
  frames: number,
  sampleRate: number,
): TempoReading[] {
  const found: { placed: TempoReading; likelihood: number }[] = [];
  for (const factor of FACTORS) {
    const bpm = free.bpm * factor;
    if (bpm < SLOWEST_BPM || bpm > FASTEST_BPM) continue;
    const placed = placedReading(factor === 1 ? free : placeBeats(hits, sampleRate, bpm), hits, frames, sampleRate);
    if (!placed) continue;
    const { startFrame, endFrame, bars, beatsPerBar } = placed;
    const inside = hits
      .filter(({ frame }) => frame > startFrame - EARLY_SECONDS * sampleRate && frame < endFrame)
      .map((hit) => ({ ...hit, frame: hit.frame - startFrame }));
    const likelihood = likelihoodOf(inside, endFrame - startFrame, sampleRate, bars, beatsPerBar);
    found.push({ placed, likelihood });
  }
  found.sort((a, b) => b.likelihood - a.likelihood);
  const [best] = found;
  return found.map(({ placed, likelihood }) => {
    const confidence = best!.placed.confidence * Math.exp(likelihood - best!.likelihood);
    return { ...placed, confidence };
  });
}

/** A reading of whole bars of four that begin on a downbeat at or after the first hit; null when no bar fits there. */
function placedReading(
  free: FreeTempo,
  hits: readonly TempoHit[],
  frames: number,
  sampleRate: number,
): TempoReading | null {
  const beatFrames = (60 * sampleRate) / free.bpm;
  const startFrame = Math.round(
    free.firstBeatFrame + downbeatPlace(free.firstBeatFrame, beatFrames, hits) * beatFrames,
  );
  const lastHit = hits.at(-1)!.frame;
  const sounding = Math.ceil((lastHit - startFrame + beatFrames / 4) / (4 * beatFrames));
  const fitting = Math.floor((frames - startFrame) / (4 * beatFrames) + 1e-6);
  if (fitting < 1 || startFrame < 0) return null;
  const bars = Math.max(1, Math.min(sounding, fitting, MAX_BARS));
  const endFrame = Math.min(frames, startFrame + Math.round(loopLengthFrames(bars, 4, free.bpm, sampleRate)));
  return { bpm: free.bpm, bars, beatsPerBar: 4, confidence: free.fit / 2, startFrame, endFrame };
}

/** Of the first four beats the one on whose bars kicks and not snares fall; the first of equals. */
function downbeatPlace(firstBeatFrame: number, beatFrames: number, hits: readonly TempoHit[]): number {
  const carried = [0, 0, 0, 0];
  for (const hit of hits) {
    const beat = (hit.frame - firstBeatFrame) / beatFrames;
    const nearest = Math.round(beat);
    if (Math.abs(beat - nearest) > 0.12) continue;
    carried[((nearest % 4) + 4) % 4]! += hit.strength * (0.2 + hit.kick - hit.snare);
  }
  const most = Math.max(...carried);
  return carried.findIndex((value) => value > most - 0.15 * Math.abs(most));
}
