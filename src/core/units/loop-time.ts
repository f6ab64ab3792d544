/**
 * Musical time within a loop: which tick a frame of its source is, and back. Bars are of one length, or each has a line of
 * its own, where a drummer drifts; between two lines time passes evenly, before the first and after the last as in the bar
 * beside it.
 */
import { countedBeats, countedBeatTicks, loopLengthTicks, loopTempoBpm, TICKS_PER_BEAT } from './time.ts';

export interface TimedLoop {
  startFrame: number;
  endFrame: number;
  bars: number;
  beatsPerBar: number;
  /** Where the second bar begins, the third, and so on: one less than there are bars. Left out: all are of one length. */
  barFrames?: readonly number[] | undefined;
}

/** First frames of all bars, and the end of the last (fractional where bars are of one length). */
export function barLines(loop: TimedLoop): number[] {
  const { startFrame, endFrame, bars, barFrames } = loop;
  if (barFrames) return [startFrame, ...barFrames, endFrame];
  return Array.from({ length: bars + 1 }, (_, bar) => startFrame + (bar / bars) * (endFrame - startFrame));
}

/** The bar that something belongs to whose place among the lines is searched: the last line that is not above it. */
function barAt(lines: readonly number[], value: number): number {
  let low = 0;
  let high = lines.length - 2;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (lines[middle]! <= value) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** Ticks from the loop's start on (below 0 before it) at a frame of its source. */
export function loopTicksAt(loop: TimedLoop, frame: number): number {
  const { startFrame, endFrame, barFrames } = loop;
  if (!barFrames) return ((frame - startFrame) / (endFrame - startFrame)) * loopLengthTicks(loop);
  const lines = barLines(loop);
  const bar = barAt(lines, frame);
  const share = (frame - lines[bar]!) / (lines[bar + 1]! - lines[bar]!);
  return (bar + share) * loop.beatsPerBar * TICKS_PER_BEAT;
}

/** The frame of the source (fractional) at so many ticks from the loop's start: the inverse of {@link loopTicksAt}. */
export function loopFrameAt(loop: TimedLoop, ticks: number): number {
  const { startFrame, endFrame, barFrames } = loop;
  if (!barFrames) return startFrame + (ticks / loopLengthTicks(loop)) * (endFrame - startFrame);
  const lines = barLines(loop);
  const inBars = ticks / (loop.beatsPerBar * TICKS_PER_BEAT);
  const bar = Math.max(0, Math.min(lines.length - 2, Math.floor(inBars)));
  return lines[bar]! + (inBars - bar) * (lines[bar + 1]! - lines[bar]!);
}

/** How much more of the loop's time than of its source a range takes: above 1 in a bar that was played faster. */
export function rangeShare(loop: TimedLoop, from: number, to: number): number {
  if (!loop.barFrames || to <= from) return 1;
  const ticks = loopTicksAt(loop, to) - loopTicksAt(loop, from);
  return (ticks / loopLengthTicks(loop)) * ((loop.endFrame - loop.startFrame) / (to - from));
}

/** How far on in the loop each of its counted beats is, from 0 to below 1. */
export function beatShares(loop: TimedLoop): number[] {
  const { startFrame, endFrame, bars, beatsPerBar } = loop;
  return Array.from({ length: bars * countedBeats(beatsPerBar) }, (_, beat) => {
    const frame = loopFrameAt(loop, beat * countedBeatTicks(beatsPerBar));
    return (frame - startFrame) / (endFrame - startFrame);
  });
}

/** The slowest and the fastest bar, in beats a minute. */
export function barTempi(loop: TimedLoop, sampleRate: number): { slowestBpm: number; fastestBpm: number } {
  const lines = barLines(loop);
  const lengths = lines.slice(1).map((line, bar) => line - lines[bar]!);
  const ofLength = (frames: number) => loopTempoBpm(1, loop.beatsPerBar, frames, sampleRate);
  return { slowestBpm: ofLength(Math.max(...lengths)), fastestBpm: ofLength(Math.min(...lengths)) };
}

/** The loop with bars of one length. */
export function evenLoop<T extends TimedLoop>(loop: T): T {
  const { barFrames: _left, ...rest } = loop;
  return rest as T;
}

/**
 * A loop in which one bar begins at a frame. Where the bars had one length, those before and after it share what there is;
 * where each has its own line, the others stay.
 * @param bar from 1 (the second) to the last
 * @returns null where that line would not stand between its neighbours
 */
export function withBarLine<T extends TimedLoop>(
  loop: T,
  bar: number,
  frame: number,
): (T & { barFrames: number[] }) | null {
  const lines = barLines(loop);
  const at = Math.round(frame);
  if (!(bar >= 1 && bar < loop.bars)) return null;
  const moved = lines.map((line, place) => {
    if (loop.barFrames) return place === bar ? at : line;
    if (place <= bar) return Math.round(loop.startFrame + (place / bar) * (at - loop.startFrame));
    return Math.round(loop.endFrame - ((loop.bars - place) / (loop.bars - bar)) * (loop.endFrame - at));
  });
  const areInOrder = moved.every((line, place) => place === 0 || line > moved[place - 1]!);
  return areInOrder ? { ...loop, barFrames: moved.slice(1, -1) } : null;
}

/** The inner bar line nearest to a frame, as the number of the bar that begins there (from 1); null for a loop of one bar. */
export function nearestBarLine(loop: TimedLoop, frame: number): number | null {
  if (loop.bars < 2) return null;
  const bar = Math.round(loopTicksAt(loop, frame) / (loop.beatsPerBar * TICKS_PER_BEAT));
  return Math.max(1, Math.min(loop.bars - 1, bar));
}

/**
 * The bar lines of a loop that is read anew: kept where each still stands for a bar, halved or doubled with the number of
 * bars; left out, for bars of one length, where they say nothing of the new reading.
 */
export function barFramesOf(before: TimedLoop, next: TimedLoop): readonly number[] | undefined {
  if (!before.barFrames) return undefined;
  const lines = barLines(before);
  // An end that moves by half a bar or more makes other bars.
  const isMoved = (now: number, was: number, barFrames: number) => Math.abs(now - was) * 2 >= barFrames;
  if (isMoved(next.startFrame, before.startFrame, lines[1]! - lines[0]!)) return undefined;
  if (isMoved(next.endFrame, before.endFrame, lines.at(-1)! - lines.at(-2)!)) return undefined;
  const inner = innerLines(lines, before, next);
  if (!inner) return undefined;
  const all = [next.startFrame, ...inner, next.endFrame];
  return all.every((line, place) => place === 0 || line > all[place - 1]!) ? inner : undefined;
}

function innerLines(lines: readonly number[], before: TimedLoop, next: TimedLoop): number[] | null {
  const perBar = next.bars / before.bars;
  if (perBar === 1) return lines.slice(1, -1);
  if (perBar === 2) {
    const halves = lines.slice(1).flatMap((line, bar) => [Math.round((lines[bar]! + line) / 2), line]);
    return halves.slice(0, -1);
  }
  if (perBar === 0.5 && next.bars > 1)
    return lines.filter((_, place) => place > 0 && place < before.bars && place % 2 === 0);
  return null;
}
