/** Breaks in the long recordings of the shelf: looked for, listened to, and taken out as sounds of their own. */
import { useStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowReactive, watch } from 'vue';
import { DEFAULT_BREAK_WISH, type BreakWish, type FoundBreak } from '#core/analysis/breaks/find-breaks.ts';
import { losslessEncoding, writeWav } from '#core/formats/wav-write.ts';
import { safeFileName } from '#core/formats/file-names.ts';
import { AppError } from '#core/units/errors.ts';
import type { SourceSummary } from '../../api/client.ts';
import { describeFailure } from '../../api/words.ts';
import { library } from '../../audio/services.ts';
import { useNotices } from '../frame/notices.ts';
import { useWork } from '../frame/work.ts';
import { usePreview } from '../sound/preview.ts';
import { useListening } from './listening.ts';
import { useShelf } from './shelf.ts';

export interface Search {
  breaks: readonly FoundBreak[];
  /** How long it took. */
  seconds: number;
}

/** Minutes and seconds of a place in a recording. */
export function placeWords(frame: number, sampleRate: number): string {
  const seconds = frame / sampleRate;
  return `${Math.floor(seconds / 60)}:${(seconds % 60).toFixed(2).padStart(5, '0')}`;
}

/** What would help the loop's seam. */
export function seamWords({ fadeMs, seamless }: FoundBreak): string {
  if (seamless < 0.6) return 'something else after its end';
  return fadeMs === 0 ? 'loops as it is' : `a fade of ${fadeMs} ms helps`;
}

export const useBreaks = defineStore('breaks', () => {
  const listening = useListening();
  const shelf = useShelf();
  const preview = usePreview();
  const notices = useNotices();
  const work = useWork();
  const wish = useStorage<BreakWish>('yappa.breaks', { ...DEFAULT_BREAK_WISH }, undefined, { mergeDefaults: true });
  const searches = shallowReactive(new Map<string, Search>());
  const searching = ref<string | null>(null);
  /** Place of the one that is looked at, among those of the sound under the cursor. */
  const chosenPlace = ref(0);
  const heardPlace = ref(-1);
  /** Of the sound under the cursor. */
  const search = computed(() => searches.get(listening.cursorId ?? '') ?? null);
  const chosen = computed(() => search.value?.breaks[chosenPlace.value] ?? null);
  watch(
    () => listening.cursorId,
    () => (chosenPlace.value = 0),
  );

  async function find(source: SourceSummary): Promise<void> {
    if (searching.value !== null) return;
    searching.value = source.id;
    const abort = new AbortController();
    const workId = work.begin({ kind: 'find', name: source.name, share: 0, cancel: () => abort.abort() });
    const began = performance.now();
    try {
      await library.load(source.id);
      const breaks = await library.findBreaks(
        source.id,
        { ...wish.value, bars: [...wish.value.bars] },
        { onProgress: (share) => work.update(workId, { share }), signal: abort.signal },
      );
      listening.searchedIds.add(source.id);
      searches.set(source.id, { breaks, seconds: (performance.now() - began) / 1000 });
      chosenPlace.value = 0;
    } catch (error) {
      if (!(error instanceof AppError && error.code === 'cancelled'))
        notices.error(describeFailure(source.name, error));
    } finally {
      searching.value = null;
      work.end(workId);
    }
  }

  /** Round and round, in the song's time where it is wanted and can be; or silence when it sounds already. */
  async function hear(source: SourceSummary, place: number): Promise<void> {
    const found = searches.get(source.id)?.breaks[place];
    if (!found) return;
    if (preview.previewId === source.id && heardPlace.value === place) return preview.stopPreview();
    chosenPlace.value = heardPlace.value = place;
    const { startFrame, endFrame, bpm, hitFrames } = found;
    try {
      if (listening.wantsInTime) {
        const loop = { sourceId: source.id, startFrame, endFrame, tempoBpm: bpm };
        if (await preview.playInTime({ ...loop, attackFrames: hitFrames, material: 'drums' })) return;
      }
      await preview.playRange(source.id, startFrame, endFrame, true);
    } catch (error) {
      notices.error(describeFailure('Listening', error));
    }
  }

  /** A break as a sound of its own on the shelf. @returns null when it could not be taken out */
  async function keep(source: SourceSummary, place: number): Promise<SourceSummary | null> {
    const found = searches.get(source.id)?.breaks[place];
    if (!found) return null;
    const { startFrame, endFrame } = found;
    const workId = work.begin({ kind: 'import', name: source.name, share: null, cancel: null });
    try {
      const { sampleRate, channels } = await library.load(source.id);
      const part = { sampleRate, channels: channels.map((channel) => channel.slice(startFrame, endFrame)) };
      const name = safeFileName(`${source.name}, break ${place + 1}`, 'break');
      const file = new File([writeWav(part, { encoding: losslessEncoding(part) })], `${name}.wav`, {
        type: 'audio/wav',
      });
      const origin = `from ${source.name}, at ${placeWords(startFrame, sampleRate)}`;
      const imported = await library.importFile(file, { origin, moreTags: ['break'] });
      await shelf.refreshSources();
      return shelf.sources.find(({ id }) => id === imported.source.sourceId) ?? null;
    } catch (error) {
      notices.error(describeFailure(source.name, error));
      return null;
    } finally {
      work.end(workId);
    }
  }

  return { wish, search, searching, chosenPlace, chosen, heardPlace, find, hear, keep };
});
