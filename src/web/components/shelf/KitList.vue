<script setup lang="ts">
/** The kits on the shelf: kept from parts on the bench, loaded into the open project. */
import { computed, onMounted, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import type { KitSummary } from '#core/api/kits.ts';
import { useKits } from '../../stores/kits.ts';
import { useProject } from '../../stores/project.ts';
import IconButton from '../shared/IconButton.vue';
import RenameDialog from './RenameDialog.vue';

const { wanted = '' } = defineProps<{ wanted?: string }>();
const kits = useKits();
const project = useProject();
const router = useRouter();
const renaming = ref<KitSummary | null>(null);
const items = computed(() => kits.list.filter(({ name }) => name.toLowerCase().includes(wanted.toLowerCase())));
const headers = [
  { title: 'name', key: 'name' },
  { title: 'sounds', key: 'soundCount', width: 110 },
  { title: 'kept', key: 'createdAt', width: 150 },
  { title: 'more', key: 'acts', sortable: false, align: 'end', width: 210, headerProps: { class: 'no-words' } },
] as const;

async function load(kit: KitSummary): Promise<void> {
  await kits.load(kit);
  await router.push(`/bench/${project.document!.id}`);
}

// The dialog has closed by then.
const lastRenamed = ref<KitSummary | null>(null);
watch(renaming, (one) => (lastRenamed.value = one ?? lastRenamed.value));
function rename(name: string): void {
  if (lastRenamed.value) void kits.rename(lastRenamed.value, name);
}
onMounted(() => void kits.refresh());
</script>

<template>
  <v-data-table-virtual
    :headers="headers"
    :items="items"
    item-value="id"
    data-testid="kits"
    aria-label="Kits"
    no-data-text="No kit: on the bench, “keep as a kit” in a part's menu keeps its sounds on their keys here, for any project."
  >
    <template #[`item.name`]="{ item }"
      ><b class="name">{{ item.name }}</b></template
    >
    <template #[`item.createdAt`]="{ item }">{{ new Date(item.createdAt).toLocaleDateString() }}</template>
    <template #[`item.acts`]="{ item }">
      <v-btn
        v-if="project.document"
        :data-tip="`As a part of ${project.document.name}`"
        :aria-label="`Load ${item.name}`"
        @click="load(item)"
        >load</v-btn
      >
      <IconButton icon="edit" :words="`Rename ${item.name}`" variant="text" @click="renaming = item" />
      <IconButton
        icon="remove"
        :words="`Delete ${item.name}`"
        hint="Parts that it was loaded into keep it"
        variant="text"
        @click="kits.remove(item)"
      />
    </template>
  </v-data-table-virtual>
  <RenameDialog
    v-if="renaming"
    :key="renaming.id"
    :model-value="true"
    :name="renaming.name"
    what="kit"
    @update:model-value="renaming = null"
    @rename="rename"
  />
</template>

<style scoped>
.name {
  font-weight: 600;
}
</style>
