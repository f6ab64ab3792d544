/**
 * Tempo, bars and place of a loop in its file. A file that is a trimmed loop is read by its length (tempo.ts); where that
 * reading is unsure, the hits alone are asked (free-tempo.ts): they may tell which of the readings is right, or that the
 * file has silence, a pickup or a tail around the loop.
 */
import { loopLengthFrames } from '../units/time.ts';
import { readFreeTempo, type FreeTempo } from './free-tempo.ts';
import { MIN_CONFIDENCE, readLoopTempo, type TempoHit, type TempoReading } from './tempo.ts';

/** Readings by length that are surer than this are not questioned. */
const SURE = 0.6;
/** A trimmed loop begins with a hit; one that begins later than this may have silence or a pickup before it. */
const LEAD_IN_SECONDS = 0.08;
/** The hits' own tempo counts when they fit its sixteenths this well. */
const MIN_FIT = 0.9;
/** Two tempi nearer than this are the same, also when one is a simple multiple of the other. */
const SAME_TEMPO = 0.004;
const MULTIPLES = [1, 2, 0.5, 1.5, 2 / 3] as const;
const MAX_BARS = 64;
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

function likelyReadings(hits: readonly TempoHit[], frames: number, sampleRate: number): TempoReading[] {
  const byLength = readLoopTempo(hits, frames, sampleRate);
  const best = byLength[0];
  const beginsAtOnce = (hits[0]?.frame ?? 0) < LEAD_IN_SECONDS * sampleRate;
  if (best && best.confidence >= SURE && beginsAtOnce) return byLength;
  const free = readFreeTempo(hits, sampleRate);
  if (!free || free.fit < MIN_FIT) return byLength;
  const agreeing = byLength.find((reading) => Math.abs(reading.bpm / free.bpm - 1) < SAME_TEMPO);
  if (agreeing) return [agreeing, ...byLength.filter((reading) => reading !== agreeing)];
  const likely = byLength.filter((reading) => reading.confidence >= MIN_CONFIDENCE);
  const related = likely.some((reading) =>
    MULTIPLES.some((factor) => Math.abs(reading.bpm / (free.bpm * factor) - 1) < SAME_TEMPO),
  );
  if (related) return byLength;
  const placed = placedReading(free, hits, frames, sampleRate);
  return placed ? [placed, ...byLength] : byLength;
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
