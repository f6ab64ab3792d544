<script setup lang="ts">
/** What all places have in common: the place itself, and at its right the details, which lie over it in a narrow window. */
import { useMediaQuery } from '@vueuse/core';
import { defineAsyncComponent } from 'vue';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import IconButton from '../shared/IconButton.vue';
import InTurn from '../shared/InTurn.vue';

const ViewingBanner = defineAsyncComponent(() => import('./ViewingBanner.vue'));

defineProps<{
  title: string;
  /** The bench has no heading of its own: its bands have. */
  headless?: boolean;
  detailsLabel?: string;
}>();
defineSlots<{ default(): unknown; facts?(): unknown; tools?(): unknown; details?(): unknown }>();
const project = useProject();
const session = useSession();
const hasRoom = useMediaQuery('(min-width: 1120px)');
</script>

<template>
  <div class="place" :class="{ beside: $slots.details && session.detailsOpen && hasRoom }">
    <main class="main" :aria-label="title">
      <ViewingBanner v-if="project.viewing" />
      <h1 v-if="headless" class="unseen">{{ title }}</h1>
      <header v-else class="header">
        <h1>{{ title }}</h1>
        <div class="facts quiet one-line"><slot name="facts" /></div>
        <div class="tools"><slot name="tools" /></div>
      </header>
      <slot />
    </main>
    <IconButton
      v-if="$slots.details && !(session.detailsOpen && hasRoom)"
      class="opener"
      :class="{ open: session.detailsOpen }"
      :icon="session.detailsOpen ? 'close' : 'details'"
      :words="session.detailsOpen ? 'Hide the details' : 'Show the details'"
      action="details"
      @click="session.toggleDetails()"
    />
    <aside
      v-if="$slots.details && session.detailsOpen"
      class="details"
      :class="{ over: !hasRoom }"
      :aria-label="detailsLabel ?? 'Details'"
    >
      <InTurn><slot name="details" /></InTurn>
    </aside>
  </div>
</template>

<style scoped>
.place {
  display: grid;
  grid-template: minmax(0, 1fr) / minmax(0, 1fr);
  position: relative;
}
.place.beside {
  grid-template-columns: minmax(0, 1fr) 252px;
}
.main {
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 8px 14px 12px;
  min-width: 0;
  min-height: 0;
}
.header {
  display: flex;
  align-items: center;
  gap: 12px;
  min-height: 32px;
  flex: none;
}
.header h1 {
  font-size: 20px;
  white-space: nowrap;
}
.facts {
  flex: 1;
  font-size: 13px;
}
.tools {
  display: flex;
  align-items: center;
  gap: 6px;
}
.details {
  background: var(--sheet);
  border-left: 1px solid var(--rule);
  padding: 10px 14px 14px;
  overflow-y: auto;
  scrollbar-width: thin;
  min-height: 0;
}
.details.over {
  position: absolute;
  inset: 0 0 0 auto;
  width: min(280px, 92vw);
  z-index: 20;
  border-left: 2px solid var(--ink);
}
.opener.opener {
  position: absolute;
  right: 0;
  top: 50%;
  z-index: 21;
  background: var(--sheet);
  border-right: 0;
  border-radius: 3px 0 0 3px;
  height: 44px;
  width: 18px;
}
.opener.open {
  right: min(280px, 92vw);
}
@media (min-width: 1700px) {
  .place.beside {
    grid-template-columns: minmax(0, 1fr) 320px;
  }
}
@media (max-width: 859px) {
  .main {
    padding: 6px 10px 8px;
    overflow-y: auto;
  }
}
</style>
