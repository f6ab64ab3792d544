<script setup lang="ts">
/** What can be done to a whole part, behind three dots. */
import type { Part } from '#core/project/schema.ts';
import IconButton from '../shared/IconButton.vue';
import { usePartActions } from './use-part-actions.ts';

const { part } = defineProps<{ part: Part }>();
const emit = defineEmits<{ rename: [] }>();
const { duplicate, move, remove } = usePartActions(() => part);
</script>

<template>
  <v-menu>
    <template #activator="{ props: menu }">
      <IconButton v-bind="menu" icon="more" :words="`More for ${part.name}`" variant="text" @click.stop />
    </template>
    <v-list>
      <v-list-item title="Rename" @click="emit('rename')" />
      <v-list-item title="Copy" data-tip="This part once more, with its cut and patterns" @click="duplicate" />
      <v-list-item title="Move up" @click="move(-1)" />
      <v-list-item title="Move down" @click="move(1)" />
      <v-list-item title="Remove" @click="remove" />
    </v-list>
  </v-menu>
</template>
