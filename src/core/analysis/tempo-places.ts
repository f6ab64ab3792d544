/**
 * Where in its file a loop may lie, and at which tempo. A file that is a trimmed loop of B bars of q quarter notes lasts
 * exactly `B q 60 / T` seconds, so only a few tempi are possible; with silence, a pickup or a tail around it, the hits
 * tell their own tempo (free-tempo.ts), or its half, its double, one of two or three to one.
 */
import { loopLengthFrames, loopTempoBpm } from '../units/time.ts';
import { placeBeats, readFreeTempo, type FreeTempo } from './free-tempo.ts';
import { oddBars } from './odd-metres.ts';
import { LONGEST_LOOP_BARS, type TempoHit, type TempoReading } from './tempo.ts';

export type TempoPlace = Omit<TempoReading, 'confidence'>;

/** Slowest and fastest tempo that is read by itself. */
const SLOWEST_BPM = 55;
const FASTEST_BPM = 200;
const BAR_COUNTS = [1, 2, 3, 4, 6, 8, 12, 16] as const;
const METRES = [4, 3] as const;
export const MAX_BARS = 64;
/** What fits the hits may be the tempo itself, or one of these times it. */
const FACTORS = [1, 0.5, 2, 2 / 3, 1.5, 0.75, 4 / 3] as const;
/** Two tempi nearer than this are the same, and two places. */
export const SAME_TEMPO = 0.004;
/** Chords are few: their distances are asked where the file plainly begins before them. */
const FEWEST_HITS = 3;
const BEGINS_SECONDS = 0.05;
const SAME_PLACE_SECONDS = 0.02;
/** A hit is beside a line when it is this near; a loop that lacks no more than this at the end of its file is whole. */
const BESIDE_SECONDS = 0.03;
const END_SECONDS = 0.04;
/** A hit lies on a beat when it is this near, in beats. */
const ON_BEAT = 0.12;

const isUsual = (bpm: number) => bpm >= SLOWEST_BPM && bpm <= FASTEST_BPM;

/**
 * @param hits flams as one hit; see read-tempo.ts
 * @param frames length of the file
 */
export function tempoPlaces(hits: readonly TempoHit[], frames: number, sampleRate: number): TempoPlace[] {
  const places = placesByLength(frames, sampleRate);
  for (const place of placesByHits(hits, frames, sampleRate)) {
    if (!places.some((known) => isSame(known, place, sampleRate))) places.push(place);
  }
  return places;
}

function placesByLength(frames: number, sampleRate: number): TempoPlace[] {
  return METRES.flatMap((beatsPerBar) =>
    BAR_COUNTS.map((bars) => {
      const bpm = loopTempoBpm(bars, beatsPerBar, frames, sampleRate);
      return { bpm, bars, beatsPerBar, startFrame: 0, endFrame: frames };
    }),
  ).filter(({ bpm }) => isUsual(bpm));
}

function placesByHits(hits: readonly TempoHit[], frames: number, sampleRate: number): TempoPlace[] {
  const isLate = (hits[0]?.frame ?? 0) > BEGINS_SECONDS * sampleRate;
  const free = isLate ? readFreeTempo(hits, sampleRate, FEWEST_HITS) : readFreeTempo(hits, sampleRate);
  if (!free) return [];
  return FACTORS.map((factor) => free.bpm * factor)
    .filter(isUsual)
    .flatMap((bpm) => {
      const beats = bpm === free.bpm ? free : placeBeats(hits, sampleRate, bpm);
      const odd = oddBars(bpm, hits, frames, sampleRate);
      const inOddBars = odd ? [{ ...odd, startFrame: 0, endFrame: frames }] : [];
      const inEvenBars = METRES.flatMap((beatsPerBar) =>
        barStarts(hits, sampleRate, beats, beatsPerBar).flatMap((startFrame) =>
          wholeBars(bpm, beatsPerBar, startFrame, hits, frames, sampleRate),
        ),
      );
      return [...inEvenBars, ...inOddBars];
    });
}

/** Where bars may begin: with the beat on which kicks fall, with the first of all, with the first hit. */
export function barStarts(
  hits: readonly TempoHit[],
  sampleRate: number,
  { bpm, firstBeatFrame }: FreeTempo,
  beatsPerBar: number,
): number[] {
  const beatFrames = (60 * sampleRate) / bpm;
  const downbeat = downbeatPlace(firstBeatFrame, beatFrames, beatsPerBar, hits);
  const starts = [downbeat, 0].map((beat) => Math.round(firstBeatFrame + beat * beatFrames));
  return [...new Set([...starts, firstLine(hits[0]!.frame, firstBeatFrame, beatFrames / 4, sampleRate)])];
}

/** The line of the sixteenths beside the first hit; the hit itself where it lies beside none. */
function firstLine(hitFrame: number, lineFrame: number, stepFrames: number, sampleRate: number): number {
  const line = lineFrame + Math.round((hitFrame - lineFrame) / stepFrames) * stepFrames;
  const isNear = line >= 0 && Math.abs(line - hitFrame) < BESIDE_SECONDS * sampleRate;
  return isNear ? Math.round(line) : hitFrame;
}

/** As many bars as sound from there on, one fewer, and the next usual number below; none where no bar fits there. */
function wholeBars(
  bpm: number,
  beatsPerBar: number,
  startFrame: number,
  hits: readonly TempoHit[],
  frames: number,
  sampleRate: number,
): TempoPlace[] {
  const beatFrames = (60 * sampleRate) / bpm;
  const barFrames = beatsPerBar * beatFrames;
  const early = Math.min(beatFrames / 8, BESIDE_SECONDS * sampleRate);
  const sounding = Math.floor((hits.at(-1)!.frame + early - startFrame) / barFrames) + 1;
  const fitting = Math.floor((frames + END_SECONDS * sampleRate - startFrame) / barFrames);
  if (fitting < 1 || startFrame < 0) return [];
  const most = Math.max(1, Math.min(sounding, fitting, MAX_BARS));
  const usual = 2 ** Math.floor(Math.log2(most));
  const counts = most > LONGEST_LOOP_BARS ? [most] : [most, usual, Math.max(1, most - 1)];
  return [...new Set(counts)].map((bars) => {
    const endFrame = Math.min(frames, startFrame + Math.round(loopLengthFrames(bars, beatsPerBar, bpm, sampleRate)));
    return { bpm, bars, beatsPerBar, startFrame, endFrame };
  });
}

/** Of the first beats of a bar the one on whose bars kicks and not snares fall; the first of equals. */
function downbeatPlace(
  firstBeatFrame: number,
  beatFrames: number,
  beatsPerBar: number,
  hits: readonly TempoHit[],
): number {
  const carried = new Array<number>(beatsPerBar).fill(0);
  for (const hit of hits) {
    const beat = (hit.frame - firstBeatFrame) / beatFrames;
    const nearest = Math.round(beat);
    if (Math.abs(beat - nearest) > ON_BEAT) continue;
    carried[((nearest % beatsPerBar) + beatsPerBar) % beatsPerBar]! += hit.strength * (0.2 + hit.kick - hit.snare);
  }
  const most = Math.max(...carried);
  return carried.findIndex((value) => value > most - 0.15 * Math.abs(most));
}

function isSame(a: TempoPlace, b: TempoPlace, sampleRate: number): boolean {
  const isNear = Math.abs(a.startFrame - b.startFrame) < SAME_PLACE_SECONDS * sampleRate;
  const isSameTempo = Math.abs(a.bpm / b.bpm - 1) < SAME_TEMPO;
  return isNear && isSameTempo && a.bars === b.bars && a.beatsPerBar === b.beatsPerBar;
}
