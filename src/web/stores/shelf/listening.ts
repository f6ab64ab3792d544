/** The sound under the cursor of the shelf: read when the cursor rests on it, heard as it is or in time with the song. */
import { useStorage, watchDebounced } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowReactive, shallowRef } from 'vue';
import { namedFirst } from '#core/analysis/name-hints.ts';
import { DEFAULT_SELECTION } from '#core/analysis/select-onsets.ts';
import type { SliceFacts } from '#core/analysis/analyse-source.ts';
import { likeliestMaterial } from '#core/document/defaults.ts';
import { songValues } from '#core/queries/values.ts';
import { isStretchable } from '#core/queries/following.ts';
import type { SourceSummary } from '../../api/client.ts';
import { describeFailure } from '../../api/words.ts';
import { library } from '../../audio/services.ts';
import type { LoadedSource } from '../../workers/analysis-protocol.ts';
import { useNotices } from '../frame/notices.ts';
import { usePreview } from '../sound/preview.ts';
import { useProject } from '../document/project.ts';
import { useShelf } from './shelf.ts';

/** The cursor rests when it has not moved for so long. */
const REST_MS = 250;
/** Longer sounds are read when they are cut, not while one looks for something. */
const MAX_READ_SECONDS = 120;

export interface HeardSlices {
  loaded: LoadedSource;
  slices: { startFrame: number; endFrame: number; facts: SliceFacts }[];
  loop: { startFrame: number; endFrame: number; tempoBpm: number } | null;
}

export const useListening = defineStore('listening', () => {
  const shelf = useShelf();
  const preview = usePreview();
  const project = useProject();
  const notices = useNotices();
  const cursorId = ref<string | null>(null);
  const wantsInTime = useStorage('yappa.in-time', true);
  const isLooping = useStorage('yappa.shelf-round', true);
  const latest = shallowRef<HeardSlices | null>(null);
  /** What was read of the sound under the cursor; never of another one. */
  const heard = computed(() => (latest.value?.loaded.sourceId === cursorId.value ? latest.value : null));
  const isReading = ref(false);
  /** Recordings that were looked through for breaks. */
  const searchedIds = shallowReactive(new Set<string>());

  const source = computed(() => shelf.sources.find(({ id }) => id === cursorId.value) ?? null);
  const songTempo = computed(() => (project.document ? songValues(project.document).tempoBpm : null));
  /** Can it be heard in time: is there a song, and a loop that is not too far from it? */
  const canBeInTime = computed(() => {
    const tempo = source.value?.facts.tempo ?? null;
    return tempo !== null && songTempo.value !== null && isStretchable(tempo.bpm / songTempo.value);
  });
  const isInTime = computed(() => wantsInTime.value && canBeInTime.value);

  async function read({ id, name }: Pick<SourceSummary, 'id' | 'name'>): Promise<HeardSlices> {
    const loaded = await library.load(id);
    const [reading, cut] = await Promise.all([
      library.reading(id),
      library.cut(id, { method: 'hits', ...DEFAULT_SELECTION }),
    ]);
    const frames = loaded.channels[0]!.length;
    const slices = cut.markers.map(({ frame }, index) => ({
      startFrame: frame,
      endFrame: cut.markers[index + 1]?.frame ?? frames,
      facts: cut.facts[index]!,
    }));
    const [best] = namedFirst(reading.tempoReadings, name);
    const loop = best && { startFrame: best.startFrame, endFrame: best.endFrame, tempoBpm: best.bpm };
    return { loaded, slices, loop: loop ?? null };
  }

  watchDebounced(
    cursorId,
    async (id) => {
      const wanted = source.value;
      if (!id || !wanted || wanted.frames / wanted.sampleRate > MAX_READ_SECONDS) return;
      isReading.value = true;
      try {
        const found = await read(wanted);
        latest.value = found;
      } catch (error) {
        if (cursorId.value === id) notices.error(describeFailure(wanted.name, error));
      } finally {
        isReading.value = false;
      }
    },
    { debounce: REST_MS },
  );

  /** Plays a sound of the shelf as chosen, or stops it when it plays already. */
  async function toggle(id: string): Promise<void> {
    if (preview.previewId === id) {
      preview.stopPreview();
      return;
    }
    cursorId.value = id;
    await play();
  }

  async function play(): Promise<void> {
    const wanted = source.value;
    if (!wanted) return;
    const { id } = wanted;
    try {
      if (isInTime.value) {
        const { slices, loop } = heard.value ?? (await read(wanted));
        if (loop && cursorId.value === id) {
          const material = likeliestMaterial(slices.map(({ facts }) => facts.role));
          const attackFrames = slices.map(({ startFrame }) => startFrame);
          if (await preview.playInTime({ sourceId: id, ...loop, attackFrames, material })) return;
        }
      }
      await preview.playRange(id, 0, null, isLooping.value);
    } catch (error) {
      notices.error(describeFailure('Listening', error));
    }
  }

  /** Another way of hearing it is heard at once. */
  function hearAnew(): void {
    if (preview.previewId === cursorId.value) void play();
  }

  return {
    cursorId,
    source,
    wantsInTime,
    isLooping,
    canBeInTime,
    isInTime,
    songTempo,
    heard,
    isReading,
    searchedIds,
    toggle,
    play,
    hearAnew,
  };
});
