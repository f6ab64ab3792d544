/**
 * Trimmed loops in five and seven: bars of four and three are asked at every tempo, odd ones only where the whole file is a
 * whole number of them at a tempo that the hits tell.
 */
import { loopTempoBpm } from '../units/time.ts';
import { barLikeness, type TempoHit } from './tempo.ts';

/** A tempo that hits tell is so exact over a file. */
const WHOLE_SECONDS = 0.012;
/** A trimmed loop begins with a hit. */
const BEGINS_SECONDS = 0.03;
/** Bars in eighths, the most usual first: 7/8, 5/4, 7/4, 5/8. */
const ODD_BARS_EIGHTHS = [7, 10, 14, 5] as const;
const MOST_BARS = 8;
/** Bars of seven eighths are as alike as this; else a bar is twice as long. */
const ALIKE = 0.4;

/** Bars of four or three quarters are even, in this sense. */
export const isOdd = (beatsPerBar: number) => beatsPerBar !== 4 && beatsPerBar !== 3;

/**
 * @param hits in the file, in frames, flams as one hit
 * @param bpm in quarter notes
 * @returns bars and metre of the whole file, and its exact tempo; null where it is not a whole number of odd bars
 */
export function oddBars(
  bpm: number,
  hits: readonly TempoHit[],
  frames: number,
  sampleRate: number,
): { bpm: number; bars: number; beatsPerBar: number } | null {
  if ((hits[0]?.frame ?? frames) > BEGINS_SECONDS * sampleRate) return null;
  const eighthFrames = (30 * sampleRate) / bpm;
  const eighths = Math.round(frames / eighthFrames);
  if (Math.abs(frames - eighths * eighthFrames) > WHOLE_SECONDS * sampleRate) return null;
  const fitting = ODD_BARS_EIGHTHS.map((long) => ({ bars: eighths / long, beatsPerBar: long / 2 })).filter(
    ({ bars }) => Number.isInteger(bars) && bars <= MOST_BARS && Math.log2(bars) % 1 === 0,
  );
  const areAlike = ({ bars, beatsPerBar }: { bars: number; beatsPerBar: number }) =>
    barLikeness(hits, frames / (bars * beatsPerBar), beatsPerBar, bars) > ALIKE;
  const metre = fitting.find((one, index) => index === fitting.length - 1 || one.beatsPerBar !== 3.5 || areAlike(one));
  return metre ? { ...metre, bpm: loopTempoBpm(metre.bars, metre.beatsPerBar, frames, sampleRate) } : null;
}
