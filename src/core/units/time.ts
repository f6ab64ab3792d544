/** Conversions between ticks, frames, seconds and bars. A beat is a quarter note of 960 ticks. */

/** Ticks in one beat (quarter note). */
export const TICKS_PER_BEAT = 960;

/** The slowest and fastest song tempo, in beats a minute. */
export const MIN_TEMPO_BPM = 20;
export const MAX_TEMPO_BPM = 400;

/**
 * Frames that one tick lasts: `60 / tempoBpm * sampleRate / 960`.
 * Multiply an absolute position by this; never add up rounded durations.
 */
export function framesPerTick(tempoBpm: number, sampleRate: number): number {
  return ((60 / tempoBpm) * sampleRate) / TICKS_PER_BEAT;
}

/**
 * Tempo of a loop: `bars * beatsPerBar * 60 * sampleRate / loopFrames`, in beats a minute.
 * @throws RangeError when the loop is empty.
 */
export function loopTempoBpm(bars: number, beatsPerBar: number, loopFrames: number, sampleRate: number): number {
  if (!(loopFrames > 0)) throw new RangeError(`loopFrames is ${loopFrames}; a loop is at least one frame long`);
  return (bars * beatsPerBar * 60 * sampleRate) / loopFrames;
}

/** Frames (fractional) that a loop of `bars` bars lasts at a tempo: the inverse of {@link loopTempoBpm}. */
export function loopLengthFrames(bars: number, beatsPerBar: number, tempoBpm: number, sampleRate: number): number {
  return (bars * beatsPerBar * 60 * sampleRate) / tempoBpm;
}

/** Whole bars, at least one, that come nearest to a length at a tempo. */
export function nearestBars(frames: number, beatsPerBar: number, tempoBpm: number, sampleRate: number): number {
  return Math.max(1, Math.round(frames / loopLengthFrames(1, beatsPerBar, tempoBpm, sampleRate)));
}

/** Seconds to the nearest whole frame. */
export function secondsToFrames(seconds: number, sampleRate: number): number {
  return Math.round(seconds * sampleRate);
}

/** Milliseconds to the nearest whole frame. */
export function msToFrames(ms: number, sampleRate: number): number {
  return Math.round((ms / 1000) * sampleRate);
}

/** A place in the song as people count it: bar and beat from 1, then ticks from 0. */
export interface BarsBeatsTicks {
  bar: number;
  beat: number;
  ticks: number;
}

/** Most quarter notes a bar may have; an odd number of eighths makes a half of one. */
export const MAX_BEATS_PER_BAR = 16;

/** How a metre is written: 3 quarters are `3/4 6/8`, three and a half `7/8`. */
export function metreWords(beatsPerBar: number): string {
  if (!Number.isInteger(beatsPerBar)) return `${beatsPerBar * 2}/8`;
  return beatsPerBar % 3 === 0 ? `${beatsPerBar}/4 ${beatsPerBar * 2}/8` : `${beatsPerBar}/4`;
}

const ODD_EIGHTHS = [3, 5, 7, 9, 11, 13, 15];

/** The metres to choose from, by the quarter notes of their bars. */
export const METRES: readonly { beatsPerBar: number; words: string }[] = [
  ...Array.from({ length: MAX_BEATS_PER_BAR }, (_, index) => index + 1),
  ...ODD_EIGHTHS.map((eighths) => eighths / 2),
]
  .sort((a, b) => a - b)
  .map((beatsPerBar) => ({ beatsPerBar, words: metreWords(beatsPerBar) }));

/** What is counted and clicked in a metre: quarters, or eighths where a bar has an odd number of them. In ticks. */
export function countedBeatTicks(beatsPerBar: number): number {
  return Number.isInteger(beatsPerBar) ? TICKS_PER_BEAT : TICKS_PER_BEAT / 2;
}

/** Counted beats of a bar: see {@link countedBeatTicks}. */
export function countedBeats(beatsPerBar: number): number {
  return (beatsPerBar * TICKS_PER_BEAT) / countedBeatTicks(beatsPerBar);
}

/** Splits absolute ticks (0 or more) into bar, beat and ticks, for `beatsPerBar` quarter notes a bar. */
export function ticksToBarsBeats(ticks: number, beatsPerBar: number): BarsBeatsTicks {
  const whole = Math.max(0, Math.floor(ticks));
  const beatTicks = countedBeatTicks(beatsPerBar);
  const perBar = countedBeats(beatsPerBar);
  const beats = Math.floor(whole / beatTicks);
  return { bar: Math.floor(beats / perBar) + 1, beat: (beats % perBar) + 1, ticks: whole % beatTicks };
}

/** `2.1.048`: bar, beat, ticks of the beat in three digits. @param barsBefore that are counted before */
export function formatBarsBeats(ticks: number, beatsPerBar: number, barsBefore = 0): string {
  const at = ticksToBarsBeats(ticks, beatsPerBar);
  return `${barsBefore + at.bar}.${at.beat}.${String(at.ticks).padStart(3, '0')}`;
}

/** `1:04.250`: minutes, seconds and milliseconds. */
export function formatSeconds(seconds: number): string {
  const ms = Math.round(seconds * 1000);
  const minutes = Math.floor(ms / 60000);
  const rest = ((ms % 60000) / 1000).toFixed(3).padStart(6, '0');
  return `${minutes}:${rest}`;
}

/** Length of a loop in ticks: `bars * beatsPerBar * 960`. */
export function loopLengthTicks(loop: { readonly bars: number; readonly beatsPerBar: number }): number {
  return loop.bars * loop.beatsPerBar * TICKS_PER_BEAT;
}
