/** What the shelf is searched by: what a single hit is, and how the slices of a sound sound. */
import type { AudioData } from '../dsp/audio.ts';
import { describeSlices, type SliceFacts, type SourceAnalysis } from './analyse-source.ts';
import { cutAtHits } from './cut.ts';
import { printsOf, type Prints } from './prints.ts';
import { DEFAULT_SELECTION } from './select-onsets.ts';
import { isSingleHit } from './single-hit.ts';

export interface HeardSound {
  /** Of a single hit or note; absent of a loop. */
  heard?: Pick<SliceFacts, 'role' | 'midi' | 'brightnessHz'>;
  prints: Prints;
}

export function hearForShelf(audio: AudioData, analysis: SourceAnalysis): HeardSound {
  const hits = cutAtHits(analysis, DEFAULT_SELECTION).map(({ frame }) => frame);
  const isHit = isSingleHit(audio, hits);
  const starts = isHit ? [hits[0] ?? 0] : hits;
  const ranges = starts.map((startFrame, place) => ({
    startFrame,
    endFrame: starts[place + 1] ?? analysis.mono.length,
  }));
  const prints = printsOf(analysis, ranges);
  const [first] = isHit ? describeSlices(analysis, ranges) : [];
  if (!first) return { prints };
  const { role, midi, brightnessHz } = first;
  return { prints, heard: { role, midi, brightnessHz: Math.round(brightnessHz) } };
}
