/** A part as a small skyline in the colours of its slices. */
import { computed, type ComputedRef } from 'vue';
import { peakBetween } from '#core/dsp/peaks.ts';
import type { Part } from '#core/document/schema.ts';
import { slicesOfCut, sliceAtFrame } from '#core/queries/slices.ts';
import { library } from '../../audio/services.ts';
import { NIGHT_LIFT, sliceColours } from '../../canvas/palette.ts';
import { usePlanSender } from '../../stores/plan-sender.ts';
import { useProject } from '../../stores/project.ts';
import { themeName } from '../../theme/theme.ts';

export interface PartPicture {
  levels: number[];
  colours: string[];
}

/** @param stretches how many bars it has */
export function usePartPicture(part: () => Part | null, stretches: number): ComputedRef<PartPicture> {
  const project = useProject();
  const planSender = usePlanSender();
  // Split, so that an edit of something else than the cut draws nothing anew.
  const cut = computed(() => project.document?.cuts[part()?.cutOrder[0] ?? ''] ?? null);
  const placed = computed(() => (project.document && cut.value ? slicesOfCut(project.document, cut.value.id) : []));
  const colours = computed(() =>
    sliceColours(
      placed.value.map((at) => at.slice.brightnessHz),
      themeName.value === 'dark' ? NIGHT_LIFT : 0,
    ),
  );
  return computed(() => {
    void planSender.loadedCount;
    const peaks = cut.value ? library.peaks.get(cut.value.sourceId) : undefined;
    if (!peaks) return { levels: [], colours: [] };
    const { startFrame, endFrame } = cut.value!.loop ?? { startFrame: 0, endFrame: peaks.frames };
    const each = (endFrame - startFrame) / stretches;
    const froms = Array.from({ length: stretches }, (_, i) => startFrame + i * each);
    return {
      levels: froms.map((from) => peakBetween(peaks, from, from + each)),
      colours: froms.map(
        (from) => colours.value[sliceAtFrame(placed.value, from + each / 2)?.index ?? -1] ?? 'var(--rule)',
      ),
    };
  });
}
