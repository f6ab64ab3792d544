<script setup lang="ts" generic="Item extends { id: string; name: string }">
/** Things on the shelf that have a name: listed, renamed, deleted. Other columns bring slots of their own. */
import { computed, ref } from 'vue';
import IconButton from '../shared/IconButton.vue';
import NameDialog from '../shared/NameDialog.vue';

interface Column {
  title: string;
  key: string;
  sortable?: boolean;
  width?: number;
  headerProps?: { class: string };
}
const props = defineProps<{
  items: readonly Item[];
  /** Beside the one of what can be done. */
  columns: readonly Column[];
  /** What one of them is called. */
  what: string;
  /** How it comes that there is one. */
  emptyWords: string;
  /** What becomes of those that are used. */
  keptWords: string;
  actsWidth?: number;
  /** Only those with this in their names. */
  wanted?: string;
}>();
const emit = defineEmits<{ rename: [item: Item, name: string]; remove: [item: Item] }>();
const renaming = ref<{ id: string; name: string } | null>(null);

const shown = computed(() => {
  const wanted = (props.wanted ?? '').toLowerCase();
  return props.items.filter(({ name }) => name.toLowerCase().includes(wanted));
});
const headers = computed(() => [
  ...props.columns,
  {
    title: 'more',
    key: 'acts',
    sortable: false,
    align: 'end' as const,
    width: props.actsWidth ?? 80,
    headerProps: { class: 'no-words' },
  },
]);

function rename(id: string, name: string): void {
  const item = props.items.find((one) => one.id === id);
  if (item) emit('rename', item, name);
}
</script>

<template>
  <v-data-table-virtual
    :headers="headers"
    :items="shown"
    item-value="id"
    :data-testid="`${what}s`"
    :aria-label="`${what[0]!.toUpperCase()}${what.slice(1)}s`"
    :no-data-text="emptyWords"
  >
    <template v-for="{ key } in columns" :key="key" #[`item.${key}`]="{ item }">
      <slot :name="key" :item="item"
        ><b v-if="key === 'name'" class="name">{{ item.name }}</b
        ><template v-else>{{ item[key as keyof Item] }}</template></slot
      >
    </template>
    <template #[`item.acts`]="{ item }">
      <slot name="acts" :item="item" />
      <IconButton icon="edit" :words="`Rename ${item.name}`" variant="text" @click="renaming = item" />
      <IconButton
        icon="remove"
        :words="`Delete ${item.name}`"
        :hint="keptWords"
        variant="text"
        @click="emit('remove', item)"
      />
    </template>
  </v-data-table-virtual>
  <NameDialog
    v-for="one in renaming ? [renaming] : []"
    :key="one.id"
    :model-value="true"
    :name="one.name"
    :what="what"
    @update:model-value="renaming = null"
    @rename="rename(one.id, $event)"
  />
</template>

<style scoped>
.name {
  font-weight: 600;
}
</style>
