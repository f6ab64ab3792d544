/** How far the shown pattern has gone from home: worked out when an edit has been shown, once for all who ask. */
import { useStorage, watchDebounced } from '@vueuse/core';
import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import { homeDistance, type HomeDistance } from '#core/queries/distance.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';

/** Of a long pattern it takes some milliseconds. */
const AFTER_EDIT_MS = 60;

export const useHomeDistance = defineStore('home-distance', () => {
  const project = useProject();
  const session = useSession();
  /** Null for a home pattern. */
  const distance = shallowRef<HomeDistance | null>(null);
  /** In rows, where the loop plays what the pattern has moved or left out is drawn, too. */
  const isShown = useStorage('yappa.home-shown', true);
  watchDebounced(
    () => [session.cut, session.patternId, session.events, session.lengthTicks],
    () => {
      const { document } = project;
      distance.value = document && session.cut ? homeDistance(document, session.cut.id, session.patternId) : null;
    },
    { debounce: AFTER_EDIT_MS, immediate: true },
  );
  return { distance, isShown };
});
