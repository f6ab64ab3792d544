<script setup lang="ts">
/** The grooves on the shelf. They are lifted out of parts and laid over parts on the bench. */
import { computed, onMounted, ref, watch } from 'vue';
import { grooveWords } from '#core/patterns/groove.ts';
import type { ShelfGroove } from '../../api/client.ts';
import { useGrooves } from '../../stores/grooves.ts';
import { usePreview } from '../../stores/preview.ts';
import HearButton from '../shared/HearButton.vue';
import IconButton from '../shared/IconButton.vue';
import GroovePicture from './GroovePicture.vue';
import RenameDialog from './RenameDialog.vue';

const { wanted = '' } = defineProps<{ wanted?: string }>();
const grooves = useGrooves();
const preview = usePreview();
const renaming = ref<ShelfGroove | null>(null);
const items = computed(() =>
  grooves.list
    .filter(({ groove }) => groove.name.toLowerCase().includes(wanted.toLowerCase()))
    .map((one) => ({ ...one, name: one.groove.name, words: grooveWords(one.groove) })),
);
const headers = [
  { title: 'hear', key: 'hear', sortable: false, width: 36, headerProps: { class: 'no-words' } },
  { title: 'picture', key: 'picture', sortable: false, width: 210, headerProps: { class: 'no-words' } },
  { title: 'name', key: 'name' },
  { title: 'what it does', key: 'words' },
  { title: 'more', key: 'acts', sortable: false, align: 'end', width: 80, headerProps: { class: 'no-words' } },
] as const;

// The dialog has closed by then.
function rename(name: string): void {
  if (lastRenamed.value) void grooves.rename(lastRenamed.value, name);
}
const lastRenamed = ref<ShelfGroove | null>(null);
watch(renaming, (one) => (lastRenamed.value = one ?? lastRenamed.value));
onMounted(() => void grooves.refresh());
</script>

<template>
  <v-data-table-virtual
    :headers="headers"
    :items="items"
    item-value="id"
    data-testid="grooves"
    aria-label="Grooves"
    no-data-text="No groove: on the bench, “lift its groove” keeps a part's timing and accents here, to lay over other parts."
  >
    <template #[`item.hear`]="{ item }">
      <HearButton
        :name="item.name"
        :playing="preview.previewId === `groove:${item.id}`"
        @click="preview.previewGroove(item)"
      />
    </template>
    <template #[`item.picture`]="{ item }">
      <span class="picture"><GroovePicture :groove="item.groove" /></span>
    </template>
    <template #[`item.name`]="{ item }"
      ><b class="name">{{ item.name }}</b></template
    >
    <template #[`item.acts`]="{ item }">
      <IconButton icon="edit" :words="`Rename ${item.name}`" variant="text" @click="renaming = item" />
      <IconButton
        icon="remove"
        :words="`Delete ${item.name}`"
        hint="Parts that use it keep it"
        variant="text"
        @click="grooves.remove(item)"
      />
    </template>
  </v-data-table-virtual>
  <RenameDialog
    v-if="renaming"
    :key="renaming.id"
    :model-value="true"
    :name="renaming.groove.name"
    what="groove"
    @update:model-value="renaming = null"
    @rename="rename"
  />
</template>

<style scoped>
.picture {
  display: block;
  height: 22px;
  width: 196px;
  border-bottom: 1px solid var(--ink);
}
.name {
  font-weight: 600;
}
</style>
