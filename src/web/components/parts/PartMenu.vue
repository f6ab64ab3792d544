<script setup lang="ts">
/** What can be done to a whole part, behind three dots. */
import type { Part } from '#core/document/schema.ts';
import { useDialogs } from '../../stores/frame/dialogs.ts';
import { useKits } from '../../stores/keys/kits.ts';
import IconButton from '../shared/IconButton.vue';
import { usePartActions } from './use-part-actions.ts';

const { part } = defineProps<{ part: Part }>();
const emit = defineEmits<{ rename: [] }>();
const { duplicate, move, remove } = usePartActions(() => part);
const kits = useKits();
const dialogs = useDialogs();
</script>

<template>
  <v-menu>
    <template #activator="{ props: menu }">
      <IconButton v-bind="menu" icon="more" :words="`More for ${part.name}`" variant="text" @click.stop />
    </template>
    <v-list>
      <v-list-item title="Rename" @click="emit('rename')" />
      <v-list-item title="Copy" data-tip="This part once more, with its cut and patterns" @click="duplicate" />
      <v-list-item
        title="Print …"
        data-tip="What it plays becomes a sound of its own, cut and ready"
        @click="dialogs.printPartId = part.id"
      />
      <v-list-item
        title="Keep as a kit"
        data-tip="Its sounds on their keys, with their settings, on the shelf: for any project"
        @click="kits.keep(part.id)"
      />
      <v-list-item
        title="Load a kit"
        :disabled="kits.list.length === 0"
        data-tip="In the place of what it has on its keys"
      >
        <v-menu activator="parent" submenu>
          <v-list>
            <v-list-item v-for="kit in kits.list" :key="kit.id" :title="kit.name" @click="kits.load(kit, part.id)" />
          </v-list>
        </v-menu>
      </v-list-item>
      <v-list-item title="Move up" @click="move(-1)" />
      <v-list-item title="Move down" @click="move(1)" />
      <v-list-item title="Remove" @click="remove" />
    </v-list>
  </v-menu>
</template>
