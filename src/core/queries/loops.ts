/** Length and tempo of loops. */
import type { Cut, Loop, Part, ProjectDocument } from '../document/schema.ts';
import { cutValues, partValues, songValues } from './values.ts';
import { feelStepTicks } from '../strips/feel-step.ts';
import { rangeShare } from '../units/loop-time.ts';
import { loopLengthFrames, loopTempoBpm, nearestBars } from '../units/time.ts';

/** Beats a minute of a cut's loop as it is in its source; null for what is no loop. */
export function cutTempoBpm(document: ProjectDocument, cut: Cut): number | null {
  if (!cut.loop) return null;
  const { bars, beatsPerBar, startFrame, endFrame } = cut.loop;
  return loopTempoBpm(bars, beatsPerBar, endFrame - startFrame, document.sources[cut.sourceId]!.sampleRate);
}

/** The tempo of its own that a part keeps: when none of its cuts follows the song, that of the first; null otherwise. */
export function ownTempoBpm(document: ProjectDocument, part: Part): number | null {
  const cuts = part.cutOrder.map((cutId) => document.cuts[cutId]!);
  if (!cuts.every((cut) => cutValues(cut).follow === 'none')) return null;
  return cuts[0] ? cutTempoBpm(document, cuts[0]) : null;
}

/** How much longer a cut's loop lasts in the song than in its source; 1 for what is no loop or does not follow. */
export function lengthRatio(document: ProjectDocument, cut: Cut): number {
  const tempoBpm = cutTempoBpm(document, cut);
  return tempoBpm === null || cutValues(cut).follow === 'none' ? 1 : tempoBpm / songValues(document).tempoBpm;
}

/** The same of a range of its source: in a bar that was played faster it lasts longer. */
export function rangeLengthRatio(
  document: ProjectDocument,
  cut: Cut,
  { startFrame, endFrame }: { startFrame: number; endFrame: number },
): number {
  const ratio = lengthRatio(document, cut);
  if (!cut.loop || cutValues(cut).follow === 'none') return ratio;
  return ratio * rangeShare(cut.loop, startFrame, endFrame);
}

/** How the events of a part are moved where they are heard; see strips/timing.ts. */
export function partTiming(document: ProjectDocument, part: Part) {
  const { feelPercent, feelStep, groovePercent } = partValues(part);
  const swingPercent = ownTempoBpm(document, part) === null ? songValues(document).swingPercent : 50;
  return { feelPercent, feelStepTicks: feelStepTicks(feelStep), groove: part.groove, groovePercent, swingPercent };
}

/** What somebody has said of a loop: how many bars it has, at which tempo, or both. */
export interface SaidOfLoop {
  bars?: number;
  tempoBpm?: number;
}

/**
 * A loop as it was said, from where it starts: bars alone read it anew, as long as it is; with a tempo it becomes exactly
 * as long as so many bars are then, or as the whole bars that come nearest to its length and fit into the source.
 * @returns the frames that the source is too short by where it is
 */
export function loopAsSaid(
  { startFrame, endFrame, bars: read, beatsPerBar }: Loop,
  { frames, sampleRate }: { frames: number; sampleRate: number },
  { bars, tempoBpm }: SaidOfLoop,
): { bars: number; endFrame: number } | { bars: number; missingFrames: number } {
  if (tempoBpm === undefined) return { bars: bars ?? read, endFrame };
  const endOf = (count: number) => startFrame + Math.round(loopLengthFrames(count, beatsPerBar, tempoBpm, sampleRate));
  const nearest = nearestBars(endFrame - startFrame, beatsPerBar, tempoBpm, sampleRate);
  const count = bars ?? (endOf(nearest) > frames ? Math.max(1, nearest - 1) : nearest);
  const missingFrames = endOf(count) - frames;
  return missingFrames > 0 ? { bars: count, missingFrames } : { bars: count, endFrame: endOf(count) };
}
