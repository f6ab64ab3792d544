<script setup lang="ts">
/** The kits on the shelf: kept from parts on the bench, loaded into the open project. */
import { onMounted } from 'vue';
import { useRouter } from 'vue-router';
import type { ShelfItem } from '#core/api/shelf.ts';
import { useKits } from '../../stores/keys/kits.ts';
import { useProject } from '../../stores/document/project.ts';
import NamedList from './NamedList.vue';

const { wanted = '' } = defineProps<{ wanted?: string }>();
const kits = useKits();
const project = useProject();
const router = useRouter();
const columns = [
  { title: 'name', key: 'name' },
  { title: 'sounds', key: 'facts.soundCount', width: 110 },
  { title: 'kept', key: 'createdAt', width: 150 },
];

async function load(kit: ShelfItem<'kit'>): Promise<void> {
  await kits.load(kit);
  await router.push(`/bench/${project.document!.id}`);
}
onMounted(() => void kits.refresh());
</script>

<template>
  <NamedList
    :items="kits.list"
    :columns="columns"
    :wanted="wanted"
    :acts-width="210"
    what="kit"
    empty-words="No kit: on the bench, “keep as a kit” in a part's menu keeps its sounds on their keys here, for any project."
    kept-words="Parts that it was loaded into keep it"
    @rename="(item, name) => void kits.rename(item, name)"
    @remove="kits.remove($event)"
  >
    <template #createdAt="{ item }">{{ new Date(item.createdAt).toLocaleDateString() }}</template>
    <template #acts="{ item }">
      <v-btn
        v-if="project.document"
        :data-tip="`As a part of ${project.document.name}`"
        :aria-label="`Load ${item.name}`"
        @click="load(item)"
        >load</v-btn
      >
    </template>
  </NamedList>
</template>
