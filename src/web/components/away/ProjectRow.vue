<script setup lang="ts">
/** The whole project with its sounds as one file, which opens again here or on another machine. */
import { computed } from 'vue';
import { useProject } from '../../stores/document/project.ts';
import { useTakeAway } from '../../stores/away/take-away.ts';
import { countWords } from '../shelf/shelf-words.ts';
import AwayRow from './AwayRow.vue';
import PartRibbons from './PartRibbons.vue';

const project = useProject();
const away = useTakeAway();
const what = computed(() => {
  const { partOrder, sources } = project.document!;
  return `${countWords(partOrder.length, 'part')} and ${countWords(Object.keys(sources).length, 'sound')}`;
});
</script>

<template>
  <AwayRow
    v-model="away.settings.ticked.project"
    title="The whole project"
    about="it opens again, here or elsewhere"
    :summary="away.rows.project"
    :share="away.shareOf('project')"
  >
    <template #picture><PartRibbons :most="5" /></template>
    <span class="quiet small"
      >{{ what }}, every sample as it is; drop it on the shelf, or on a project to bring its parts in.</span
    >
  </AwayRow>
</template>
