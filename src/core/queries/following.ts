/** How cuts follow the song's tempo: what is stretched, at which tempo events pass, how fast the source under them. */
import type { Cut, Part, ProjectDocument } from '../document/schema.ts';
import { MAX_STRETCH_RATIO } from '../stretch/materials.ts';
import { transposeRatio } from '../units/pitch.ts';
import { rangeShare } from '../units/loop-time.ts';
import { framesPerTick } from '../units/time.ts';
import { cutTempoBpm, lengthRatio, ownTempoBpm } from './loops.ts';
import { cutValues, partValues, songValues } from './values.ts';

/** Whether a ratio can be stretched at all. */
export function isStretchable(ratio: number): boolean {
  return ratio <= MAX_STRETCH_RATIO && ratio >= 1 / MAX_STRETCH_RATIO;
}

/** Does a cut play stretched samples, or would it if it had to? Beyond what can be stretched it plays by slices. */
export function stretches(document: ProjectDocument, cut: Cut): boolean {
  return cutValues(cut).follow === 'stretch' && cut.loop !== null && isStretchable(lengthRatio(document, cut));
}

/**
 * How fast a cut's source passes under its events, in source frames a tick; a zone's own tuning comes on top.
 * @param range of the source, which may lie in a bar of its own tempo
 */
export function sourceFramesPerTick(
  document: ProjectDocument,
  cut: Cut,
  range?: { startFrame: number; endFrame: number },
): number {
  const { sampleRate } = document.sources[cut.sourceId]!;
  const { follow } = cutValues(cut);
  const isStretched = stretches(document, cut);
  const goesBySlices = follow === 'slices' || (follow === 'stretch' && !isStretched);
  const song = songValues(document).tempoBpm;
  const share = range && cut.loop ? rangeShare(cut.loop, range.startFrame, range.endFrame) : 1;
  const loopBpm = cutTempoBpm(document, cut);
  const tempoBpm = goesBySlices || loopBpm === null ? song : loopBpm * share;
  const { transposeCents } = partValues(document.parts[cut.partId]!);
  return framesPerTick(tempoBpm, sampleRate) * (isStretched ? 1 : transposeRatio(0, transposeCents));
}

/** The tempo that a part's events go by, in beats a minute. */
export function partTempoBpm(document: ProjectDocument, part: Part): number {
  return ownTempoBpm(document, part) ?? songValues(document).tempoBpm;
}
