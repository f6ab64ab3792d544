/** How the sounds of the chosen part look: peaks and colours of each of its cuts, also of those that are not shown. */
import { defineStore } from 'pinia';
import { computed } from 'vue';
import { peakBetween, type PeakPyramid } from '#core/dsp/peaks.ts';
import { slicesOfCut } from '#core/queries/slices.ts';
import type { PlacedZone } from '#core/queries/zones.ts';
import { library } from '../audio/services.ts';
import { NIGHT_LIFT, sliceColours } from '../canvas/palette.ts';
import { themeName } from '../theme/theme.ts';
import { usePlanSender } from './plan-sender.ts';
import { useProject } from './project.ts';
import { useSession } from './session.ts';

export interface CutSound {
  peaks: PeakPyramid | null;
  sampleRate: number;
  /** Loudest sample of the whole source, 0.05 at least. */
  loudest: number;
  /** Of each slice, by its place. */
  colours: readonly string[];
}

const SILENT: CutSound = { peaks: null, sampleRate: 44100, loudest: 1, colours: [] };
export const usePartSounds = defineStore('part-sounds', () => {
  const project = useProject();
  const session = useSession();
  const planSender = usePlanSender();

  const byCut = computed<ReadonlyMap<string, CutSound>>(() => {
    void planSender.loadedCount;
    const { document } = project;
    if (!document) return new Map();
    const lift = themeName.value === 'dark' ? NIGHT_LIFT : 0;
    const placed = session.cuts.map((cut) => ({ cut, slices: slicesOfCut(document, cut.id) }));
    // Colours spread over what is heard together: hits that were picked out of several sounds are.
    const few = placed.filter(({ cut }) => cut.loop === null);
    const together = sliceColours(
      few.flatMap(({ slices }) => slices.map(({ slice }) => slice.brightnessHz)),
      lift,
    );
    let next = 0;
    return new Map(
      placed.map(({ cut, slices }) => {
        const colours =
          cut.loop === null
            ? together.slice(next, (next += slices.length))
            : sliceColours(
                slices.map(({ slice }) => slice.brightnessHz),
                lift,
              );
        const peaks = library.peaks.get(cut.sourceId) ?? null;
        const loudest = peaks ? Math.max(0.05, peakBetween(peaks, 0, peaks.frames)) : 1;
        return [cut.id, { peaks, colours, loudest, sampleRate: document.sources[cut.sourceId]!.sampleRate }];
      }),
    );
  });

  function soundOf(cutId: string): CutSound {
    return byCut.value.get(cutId) ?? SILENT;
  }

  function colourOf({ at, cut }: PlacedZone): string {
    return soundOf(cut.id).colours[at.index] ?? 'var(--sea)';
  }

  return { byCut, soundOf, colourOf };
});
