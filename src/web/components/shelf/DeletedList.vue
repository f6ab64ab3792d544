<script setup lang="ts">
/** What was deleted: it can be brought back until it is given up. */
import { computed, ref } from 'vue';
import { useShelf } from '../../stores/shelf.ts';
import ShelfSection from './ShelfSection.vue';

const shelf = useShelf();
const asking = ref(false);
const items = computed(() => [
  ...shelf.deleted.projects.map((item) => ({ ...item, what: 'project' as const })),
  ...shelf.deleted.sources.map((item) => ({ ...item, what: 'sound' as const })),
]);

function when(time: number): string {
  return new Date(time).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });
}

async function empty(): Promise<void> {
  asking.value = false;
  await shelf.emptyDeleted();
}
</script>

<template>
  <ShelfSection v-if="items.length > 0" title="Deleted" :level="2" test-id="deleted">
    <template #tools>
      <span class="quiet">kept for {{ shelf.deleted.keptDays }} days, then given up for good</span>
      <v-btn size="small" variant="outlined" @click="asking = true">Empty now …</v-btn>
    </template>
    <li v-for="item in items" :key="`${item.what} ${item.id}`" class="deleted">
      <span class="name">{{ item.name }}</span>
      <span class="quiet">{{ item.what }}</span>
      <span class="quiet">deleted {{ when(item.deletedAt) }}</span>
      <v-btn size="small" variant="outlined" :aria-label="`Bring back ${item.name}`" @click="shelf.bringBack(item)">
        bring back
      </v-btn>
    </li>
  </ShelfSection>
  <v-dialog v-model="asking" max-width="440" aria-label="Empty what was deleted">
    <v-card>
      <v-card-title>Empty what was deleted?</v-card-title>
      <v-card-text>
        {{ items.length === 1 ? 'It is' : `All ${items.length} are` }} gone for good then, and the room on the disk is
        free. Sounds that a project plays stay with it.
      </v-card-text>
      <v-card-actions>
        <v-btn variant="text" @click="asking = false">Keep them</v-btn>
        <v-btn variant="flat" color="error" @click="empty">Empty</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.deleted {
  grid-template-columns: minmax(0, 1fr) 80px 190px 110px;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
@media (max-width: 900px) {
  .deleted {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .deleted > .quiet {
    display: none;
  }
}
</style>
