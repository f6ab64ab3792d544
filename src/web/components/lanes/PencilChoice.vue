<script setup lang="ts">
/** How a pointer draws in lanes. */
import { useLanes, type Pencil } from '../../stores/sound/lanes.ts';
import IconButton from '../shared/IconButton.vue';

const lanes = useLanes();
const PENCILS: readonly { pencil: Pencil; icon: 'lines' | 'steps' | 'draw'; words: string }[] = [
  { pencil: 'lines', icon: 'lines', words: 'Draw points and lines' },
  { pencil: 'steps', icon: 'steps', words: 'Draw steps of the grid' },
  { pencil: 'free', icon: 'draw', words: 'Draw freely' },
];
</script>

<template>
  <v-btn-toggle
    :model-value="lanes.pencil"
    mandatory
    role="group"
    aria-label="Draws in"
    @update:model-value="lanes.pencil = $event"
  >
    <IconButton
      v-for="{ pencil, icon, words } in PENCILS"
      :key="pencil"
      :value="pencil"
      :icon="icon"
      :words="words"
      :pressed="lanes.pencil === pencil"
    />
  </v-btn-toggle>
</template>
