<script setup lang="ts">
/** The chains on the shelf: kept from parts, buses or the mix in Shape, put on there. */
import { onMounted } from 'vue';
import { shelfRecords } from '../../stores/shelf/shelf-records.ts';
import NamedList from './NamedList.vue';

const { wanted = '' } = defineProps<{ wanted?: string }>();
const { list, refresh, rename, remove } = shelfRecords('chain', 'channels that it was put on');
const columns = [
  { title: 'name', key: 'name' },
  { title: 'effects', key: 'effects', sortable: false },
  { title: 'kept', key: 'createdAt', width: 150 },
];
onMounted(() => void refresh());
</script>

<template>
  <NamedList
    :items="list"
    :columns="columns"
    :wanted="wanted"
    what="chain"
    empty-words="No chain: in Shape, “whole chain …” keeps the effects of a part, a bus or the mix here, for any project."
    kept-words="Channels that it was put on keep it"
    @rename="(item, name) => void rename(item, name)"
    @remove="remove($event)"
  >
    <template #effects="{ item }">{{ item.facts.words.join(', ') }}</template>
    <template #createdAt="{ item }">{{ new Date(item.createdAt).toLocaleDateString() }}</template>
  </NamedList>
</template>
