<script setup lang="ts">
/** All projects as a table. */
import { computed } from 'vue';
import { useRouter } from 'vue-router';
import type { ProjectSummary } from '../../api/client.ts';
import { useProject } from '../../stores/document/project.ts';
import ProjectMenu from './ProjectMenu.vue';
import { whenWords } from './shelf-words.ts';

const { projects } = defineProps<{ projects: readonly ProjectSummary[] }>();
const router = useRouter();
const project = useProject();
const headers = [
  { title: 'name', key: 'name' },
  { title: 'parts', key: 'partCount', align: 'end' },
  { title: 'tempo', key: 'tempoBpm', align: 'end' },
  { title: 'made', key: 'createdAt', align: 'end' },
  { title: 'changed', key: 'updatedAt', align: 'end' },
  { title: 'more', key: 'more', sortable: false, align: 'end', width: 40, headerProps: { class: 'no-words' } },
] as const;
const items = computed(() => [...projects]);
</script>

<template>
  <v-data-table-virtual
    class="table"
    fixed-header
    :headers="headers"
    :items="items"
    item-value="id"
    :sort-by="[{ key: 'updatedAt', order: 'desc' }]"
    data-testid="project-table"
    no-data-text="No project is called that."
  >
    <template #[`item.name`]="{ item }">
      <v-btn variant="text" class="name" :aria-label="`Open ${item.name}`" @click="router.push(`/bench/${item.id}`)">
        <span class="one-line">{{ item.name }}</span>
      </v-btn>
      <span v-if="item.id === project.document?.id" class="quiet"> open now</span>
    </template>
    <template #[`item.tempoBpm`]="{ item }"
      ><span class="mono">{{ item.tempoBpm.toFixed(2) }}</span></template
    >
    <template #[`item.createdAt`]="{ item }">{{ whenWords(item.createdAt) }}</template>
    <template #[`item.updatedAt`]="{ item }">{{ whenWords(item.updatedAt) }}</template>
    <template #[`item.more`]="{ item }"><ProjectMenu :project="item" /></template>
  </v-data-table-virtual>
</template>

<style scoped>
.name {
  font-weight: 640;
  max-width: 420px;
}
.name :deep(.v-btn__content) {
  min-width: 0;
}
</style>
