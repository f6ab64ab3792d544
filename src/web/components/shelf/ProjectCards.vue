<script setup lang="ts">
/** The projects that were worked on last, as cards; and a new one. */
import { computed } from 'vue';
import { useRouter } from 'vue-router';
import type { ProjectSummary } from '../../api/client.ts';
import { useProject } from '../../stores/document/project.ts';
import { ICONS } from '../../theme/icons.ts';
import ProjectMenu from './ProjectMenu.vue';
import { countWords, whenWords } from './shelf-words.ts';

const { projects, most } = defineProps<{ projects: readonly ProjectSummary[]; most: number }>();
const emit = defineEmits<{ create: [] }>();
const router = useRouter();
const project = useProject();
const shown = computed(() => projects.slice(0, most));
</script>

<template>
  <ul class="cards" data-testid="projects" aria-label="Projects">
    <li v-for="one in shown" :key="one.id" class="card sheet" :class="{ open: one.id === project.document?.id }">
      <v-btn variant="text" class="name" :aria-label="`Open ${one.name}`" @click="router.push(`/bench/${one.id}`)">
        <span class="one-line">{{ one.name }}</span>
      </v-btn>
      <ProjectMenu :project="one" />
      <span class="line"
        ><b class="mono">{{ one.tempoBpm.toFixed(1) }}</b> bpm · {{ countWords(one.partCount, 'part') }}</span
      >
      <span class="quiet line">{{
        one.id === project.document?.id ? 'open now' : `changed ${whenWords(one.updatedAt)}`
      }}</span>
    </li>
    <li>
      <v-btn class="new" block :prepend-icon="ICONS.add" data-testid="new-project" @click="emit('create')"
        >New project</v-btn
      >
    </li>
  </ul>
</template>

<style scoped>
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 8px;
}
.card {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  padding: 4px 4px 8px;
  align-items: center;
}
.card > span {
  padding-left: 8px;
}
.card.open {
  border-color: var(--sea);
  box-shadow: inset 0 0 0 1px var(--sea);
}
.line {
  grid-column: 1 / -1;
  font-size: 13px;
}
.line b {
  font-weight: 500;
}
.name {
  justify-content: flex-start;
  font-size: 15px;
  font-weight: 650;
  padding: 0 8px;
}
.name :deep(.v-btn__content) {
  min-width: 0;
}
.new.v-btn.v-btn--density-default {
  height: 100%;
  min-height: 74px;
  border-style: dashed;
  border-color: var(--ink-quiet);
}
</style>
