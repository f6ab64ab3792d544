/** A part as a small skyline in the colours of its slices. */
import { computed, type ComputedRef } from 'vue';
import { peakBetween } from '#core/dsp/peaks.ts';
import type { Cut, Part, ProjectDocument } from '#core/document/schema.ts';
import { slicesOfCut, sliceAtFrame } from '#core/queries/slices.ts';
import { isSameList } from '#core/units/same-list.ts';
import { NIGHT_LIFT } from '../../canvas/palette.ts';
import { soundFacts, soundsOf } from '../../stores/sound/part-sounds.ts';
import { usePlanSender } from '../../stores/sound/plan-sender.ts';
import { useProject } from '../../stores/document/project.ts';
import { themeName } from '../../theme/theme.ts';

export interface PartPicture {
  levels: number[];
  colours: string[];
}

interface Piece {
  cutId: string;
  startFrame: number;
  endFrame: number;
  seconds: number;
}

/** What is drawn of a cut: its loop, or what was picked of it one by one, or all of it. */
function piecesOf(document: ProjectDocument, { id, sourceId, loop }: Cut): Piece[] {
  const { frames, sampleRate } = document.sources[sourceId]!;
  const placed = slicesOfCut(document, id);
  const picked = placed.filter(({ slice }) => slice.endFrame !== null);
  const ranges = loop ? [loop] : picked.length > 0 ? picked : [{ startFrame: 0, endFrame: frames }];
  return ranges.map(({ startFrame, endFrame }) => ({
    cutId: id,
    startFrame,
    endFrame,
    seconds: (endFrame - startFrame) / sampleRate,
  }));
}

/** All sounds of a part in a row. @param stretches how many bars it has */
export function usePartPicture(part: () => Part | null, stretches: number): ComputedRef<PartPicture> {
  const project = useProject();
  const planSender = usePlanSender();
  // Split, so that an edit of something else than the cuts draws nothing anew.
  const cuts = computed<readonly Cut[]>((before) => {
    const now = (part()?.cutOrder ?? []).map((id) => project.document!.cuts[id]!);
    return before && isSameList(before, now) ? before : now;
  });
  return computed(() => {
    void planSender.loadedCount;
    const { document } = project;
    if (!document) return { levels: [], colours: [] };
    const lift = themeName.value === 'dark' ? NIGHT_LIFT : 0;
    const sounds = soundsOf({ cuts: cuts.value.map((cut) => soundFacts(document, cut)), lift });
    const pieces = cuts.value.flatMap((cut) => piecesOf(document, cut)).filter(({ cutId }) => sounds.get(cutId)!.peaks);
    const each = pieces.reduce((sum, { seconds }) => sum + seconds, 0) / stretches;
    const picture: PartPicture = { levels: [], colours: [] };
    let from = 0;
    for (const { cutId, startFrame, endFrame, seconds } of pieces) {
      const { peaks, colours, loudest } = sounds.get(cutId)!;
      const placed = slicesOfCut(document, cutId);
      const scale = pieces.length > 1 ? 1 / loudest : 1;
      while (picture.levels.length < stretches && (picture.levels.length + 0.5) * each <= from + seconds) {
        const middle = startFrame + (((picture.levels.length + 0.5) * each - from) / seconds) * (endFrame - startFrame);
        const half = ((each / seconds) * (endFrame - startFrame)) / 2;
        picture.levels.push(
          scale * peakBetween(peaks!, Math.max(startFrame, middle - half), Math.min(endFrame, middle + half)),
        );
        picture.colours.push(colours[sliceAtFrame(placed, middle)?.index ?? -1] ?? 'var(--rule)');
      }
      from += seconds;
    }
    return picture;
  });
}
