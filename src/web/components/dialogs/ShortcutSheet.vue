<script setup lang="ts">
/** All shortcuts on one sheet; each can be changed by clicking it and pressing another key. */
import { ref } from 'vue';
import {
  ACTION_IDS,
  actionWords,
  keyOf,
  resetShortcuts,
  setShortcut,
  shortcuts,
  type ActionId,
} from '../../input/shortcuts.ts';

const open = defineModel<boolean>({ required: true });
const learning = ref<ActionId | null>(null);

function onKey(event: KeyboardEvent): void {
  if (!learning.value) return;
  event.stopPropagation();
  event.preventDefault();
  if (event.key === 'Escape') learning.value = null;
  else {
    const key = keyOf(event);
    if (!key) return;
    setShortcut(learning.value, key);
    learning.value = null;
  }
}
</script>

<template>
  <v-dialog v-model="open" max-width="820" scrollable aria-label="All shortcuts" :persistent="learning !== null">
    <v-card @keydown="onKey">
      <v-card-title>All shortcuts</v-card-title>
      <v-card-text>
        <p class="quiet small">
          Click one and press another key to change it. Plain letters play slices: the lower letter row from the start
          key, the upper row an octave higher.
        </p>
        <ul>
          <li v-for="action in ACTION_IDS" :key="action">
            <span>{{ actionWords(action) }}</span>
            <v-btn
              class="mono"
              :aria-label="`${actionWords(action)}: ${shortcuts[action] || 'none'}`"
              @click="learning = action"
            >
              {{ learning === action ? 'press a key' : shortcuts[action] || 'none' }}
            </v-btn>
          </li>
        </ul>
      </v-card-text>
      <v-card-actions>
        <v-btn to="/guide" @click="open = false">The guide</v-btn>
        <v-btn @click="resetShortcuts()">As they were</v-btn>
        <v-btn class="strong" @click="open = false">Close</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
ul {
  columns: 2;
  column-gap: 28px;
  margin-top: 8px;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  align-items: center;
  padding: 2px 0;
  break-inside: avoid;
  border-bottom: 1px solid var(--rule);
  font-size: 13px;
}
li .v-btn {
  font-family: var(--mono);
  font-weight: 400;
}
@media (max-width: 700px) {
  ul {
    columns: 1;
  }
}
</style>
