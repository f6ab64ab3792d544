/** How the sounds of the chosen part look: peaks and colours of each of its cuts, also of those that are not shown. */
import { defineStore } from 'pinia';
import { computed } from 'vue';
import { peakBetween, type PeakPyramid } from '#core/dsp/peaks.ts';
import type { Cut, ProjectDocument } from '#core/document/schema.ts';
import { slicesOfCut, type PlacedSlice } from '#core/queries/slices.ts';
import { type PlacedZone } from '#core/queries/zones.ts';
import { derive } from '#core/units/derive.ts';
import { library } from '../../audio/services.ts';
import { NIGHT_LIFT, sliceColours } from '../../canvas/palette.ts';
import { themeName } from '../../theme/theme.ts';
import { usePlanSender } from './plan-sender.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';

export interface CutSound {
  peaks: PeakPyramid | null;
  sampleRate: number;
  /** Loudest sample of the whole source, 0.05 at least. */
  loudest: number;
  /** Of each slice, by its place. */
  colours: readonly string[];
}

/** What the look of a cut follows from. */
export function soundFacts(document: ProjectDocument, { id, sourceId, loop }: Cut) {
  return {
    id,
    isLoop: loop !== null,
    slices: slicesOfCut(document, id),
    peaks: library.peaks.get(sourceId) ?? null,
    sampleRate: document.sources[sourceId]!.sampleRate,
  };
}

export interface SoundFacts {
  cuts: readonly ReturnType<typeof soundFacts>[];
  /** Lighter by so much, by night. */
  lift: number;
}

export function soundsOf({ cuts, lift }: SoundFacts): ReadonlyMap<string, CutSound> {
  const coloursOf = (slices: readonly PlacedSlice[]) =>
    sliceColours(
      slices.map(({ slice }) => slice.brightnessHz),
      lift,
    );
  // Colours spread over what is heard together: hits that were picked out of several sounds are.
  const together = coloursOf(cuts.filter(({ isLoop }) => !isLoop).flatMap(({ slices }) => slices));
  let next = 0;
  return new Map(
    cuts.map(({ id, isLoop, slices, peaks, sampleRate }) => {
      const colours = isLoop ? coloursOf(slices) : together.slice(next, (next += slices.length));
      const loudest = peaks ? Math.max(0.05, peakBetween(peaks, 0, peaks.frames)) : 1;
      return [id, { peaks, colours, loudest, sampleRate }];
    }),
  );
}

const SILENT: CutSound = { peaks: null, sampleRate: 44100, loudest: 1, colours: [] };
export const usePartSounds = defineStore('part-sounds', () => {
  const project = useProject();
  const session = useSession();
  const planSender = usePlanSender();

  /** The same map as long as nothing changes that it is made of: whatever draws with it need not draw anew. */
  const sounds = derive(soundsOf);
  const byCut = computed(() => {
    void planSender.loadedCount;
    const { document } = project;
    const lift = themeName.value === 'dark' ? NIGHT_LIFT : 0;
    return sounds.of('', { cuts: document ? session.cuts.map((cut) => soundFacts(document, cut)) : [], lift });
  });

  function soundOf(cutId: string): CutSound {
    return byCut.value.get(cutId) ?? SILENT;
  }

  function colourOf({ at, cut }: PlacedZone): string {
    return soundOf(cut.id).colours[at.index] ?? 'var(--sea)';
  }

  /** By the zones' ids; one map for all that draw with it, so that what is drawn alike is drawn once. */
  const colourById = computed<ReadonlyMap<string, string>>(
    () => new Map(session.zones.map((placed) => [placed.zone.id, colourOf(placed)])),
  );

  return { byCut, soundOf, colourOf, colourById };
});
