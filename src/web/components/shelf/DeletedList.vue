<script setup lang="ts">
/** What was deleted: it can be brought back until it is given up. */
import { computed, ref } from 'vue';
import { useShelf } from '../../stores/shelf/shelf.ts';
import { whenWords } from './shelf-words.ts';

const shelf = useShelf();
const asking = ref(false);
const items = computed(() => [
  ...shelf.deleted.projects.map((item) => ({ ...item, what: 'project' as const })),
  ...shelf.deleted.sources.map((item) => ({ ...item, what: 'sound' as const })),
]);
const headers = [
  { title: 'name', key: 'name' },
  { title: 'what', key: 'what' },
  { title: 'deleted', key: 'deletedAt', align: 'end' },
  { title: 'more', key: 'back', sortable: false, align: 'end', width: 120, headerProps: { class: 'no-words' } },
] as const;

async function empty(): Promise<void> {
  asking.value = false;
  await shelf.emptyDeleted();
}
</script>

<template>
  <div class="head">
    <span class="quiet small">kept for {{ shelf.deleted.keptDays }} days, then given up for good</span>
    <v-btn :disabled="items.length === 0" @click="asking = true">Empty now …</v-btn>
  </div>
  <v-data-table-virtual
    :headers="headers"
    :items="items"
    item-value="id"
    data-testid="deleted"
    aria-label="Deleted"
    no-data-text="Nothing was deleted."
  >
    <template #[`item.deletedAt`]="{ item }">{{ whenWords(item.deletedAt) }}</template>
    <template #[`item.back`]="{ item }">
      <v-btn :aria-label="`Bring back ${item.name}`" @click="shelf.bringBack(item)">bring back</v-btn>
    </template>
  </v-data-table-virtual>
  <v-dialog v-model="asking" max-width="440" aria-label="Empty what was deleted">
    <v-card>
      <v-card-title>Empty what was deleted?</v-card-title>
      <v-card-text>
        {{ items.length === 1 ? 'It is' : `All ${items.length} are` }} gone for good then, and the room on the disk is
        free. Sounds that a project plays stay with it.
      </v-card-text>
      <v-card-actions>
        <v-btn @click="asking = false">Keep them</v-btn>
        <v-btn color="error" variant="flat" @click="empty">Empty</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.head {
  display: flex;
  align-items: center;
  justify-content: space-between;
  padding-bottom: 6px;
}
</style>
