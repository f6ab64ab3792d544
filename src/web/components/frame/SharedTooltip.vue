<script setup lang="ts">
/**
 * One tooltip for everything that has a `data-tip` (and a `data-key` for its shortcut): a tooltip of its own for each of
 * a hundred buttons would cost more than the buttons.
 */
import { useEventListener, useTimeoutFn } from '@vueuse/core';
import { ref, shallowRef } from 'vue';

const DELAY_MS = 450;
const target = shallowRef<HTMLElement | undefined>();
const words = ref('');
const shortcut = ref('');
const isShown = ref(false);
let waitingFor: HTMLElement | null = null;

/** Over a menu that has just been opened its words would only be in the way. */
const hasMenuOpen = (element: Element) =>
  element.matches('[aria-haspopup][aria-expanded="true"], :has([aria-haspopup][aria-expanded="true"])');

const { start, stop } = useTimeoutFn(
  () => {
    const element = waitingFor;
    if (!element?.isConnected || !element.dataset.tip || hasMenuOpen(element)) return;
    target.value = element;
    words.value = element.dataset.tip;
    shortcut.value = element.dataset.key ?? '';
    isShown.value = true;
  },
  DELAY_MS,
  { immediate: false },
);

function wait(event: Event): void {
  const element = (event.target as Element | null)?.closest?.<HTMLElement>('[data-tip]') ?? null;
  if (element === waitingFor) return;
  hide();
  waitingFor = element;
  if (element && (event.type !== 'focusin' || element.matches(':focus-visible'))) start();
}

function hide(): void {
  stop();
  isShown.value = false;
  waitingFor = null;
}

useEventListener(document, ['mouseover', 'focusin'], wait);
useEventListener(document, ['mousedown', 'keydown', 'wheel'], hide, { capture: true, passive: true });
</script>

<template>
  <v-tooltip
    v-if="target && isShown"
    v-model="isShown"
    :target="target"
    :open-on-hover="false"
    :location="target.closest('.v-list') ? 'start' : 'bottom'"
    :transition="false"
    :scroll-strategy="'close'"
  >
    {{ words }}<kbd v-if="shortcut" class="mono">{{ shortcut }}</kbd>
  </v-tooltip>
</template>

<style scoped>
kbd {
  margin-left: 8px;
  opacity: 0.75;
}
</style>
