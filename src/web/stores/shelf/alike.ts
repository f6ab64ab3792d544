/** Sounds of the shelf that are like one: the prints of all slices, fetched when they are asked for first. */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { nearestSlices, type NearSlice, type SoundWithPrints } from '#core/shelf/nearest.ts';
import { api, type SourceSummary } from '../../api/client.ts';
import { library } from '../../audio/services.ts';
import { describeFailure } from '../../api/words.ts';
import { useNotices } from '../frame/notices.ts';
import { useWork } from '../frame/work.ts';
import { useShelf } from './shelf.ts';

/** So many are shown. */
const MOST = 12;

const bytesOf = (base64: string) => Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));

export const useAlike = defineStore('alike', () => {
  const shelf = useShelf();
  const notices = useNotices();
  const work = useWork();
  const prints = shallowRef<readonly SoundWithPrints[]>([]);
  const isListening = ref(false);
  /** Sounds that came before anybody listened so closely. */
  const unheard = computed(() => shelf.sources.filter(({ hasPrints }) => !hasPrints));

  const known = computed(() => new Set(prints.value.map(({ id }) => id)));
  /** Sounds have come that were listened to, and whose prints are not fetched yet. */
  const isBehind = computed(() => shelf.sources.some(({ id, hasPrints }) => hasPrints && !known.value.has(id)));

  async function refresh(): Promise<void> {
    const all = await api.sourcePrints();
    prints.value = all.map(({ id, startFrames, bytes }) => ({ id, startFrames, bytes: bytesOf(bytes) }));
  }

  /** How many slices of a sound can be compared. */
  const slicesOf = (id: string) => prints.value.find((one) => one.id === id)?.startFrames.length ?? 0;

  /** The nearest of the other sounds, with the slice of each that it is. */
  const nearest = (id: string, place: number): NearSlice[] => nearestSlices(prints.value, { id, place }, MOST);

  /** Listens to those that nobody has listened to, one after another; it can be given up. */
  async function listen(): Promise<void> {
    const missing = unheard.value;
    if (isListening.value || missing.length === 0) return;
    isListening.value = true;
    const abort = new AbortController();
    const workId = work.begin({ kind: 'listen', name: 'the shelf', share: 0, cancel: () => abort.abort() });
    try {
      for (const [place, source] of missing.entries()) {
        if (abort.signal.aborted) break;
        await listenTo(source);
        work.update(workId, { share: (place + 1) / missing.length });
      }
    } finally {
      work.end(workId);
      isListening.value = false;
      await Promise.all([shelf.refreshSources(), refresh()]);
    }
  }

  async function listenTo({ id, name }: SourceSummary): Promise<void> {
    try {
      await library.load(id);
      const { prints: found, heard } = await library.hear(id);
      await api.changeSource(id, { prints: found, ...(heard && { heard }) });
    } catch (error) {
      notices.error(describeFailure(name, error));
    }
  }

  return { prints, unheard, isBehind, isListening, refresh, slicesOf, nearest, listen };
});
