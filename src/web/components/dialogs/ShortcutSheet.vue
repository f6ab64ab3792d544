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
  <v-dialog v-model="open" max-width="760" aria-label="All shortcuts">
    <div class="sheet-of-keys sheet" @keydown="onKey">
      <h2>All shortcuts</h2>
      <p class="quiet">
        Click one and press another key to change it. Plain letters play slices: the lower letter row from the start
        key, the upper row an octave higher.
      </p>
      <ul>
        <li v-for="action in ACTION_IDS" :key="action">
          <span>{{ actionWords(action) }}</span>
          <button class="push small mono" @click="learning = action">
            {{ learning === action ? 'press a key' : shortcuts[action] || 'none' }}
          </button>
        </li>
      </ul>
      <div class="actions">
        <button class="push" @click="resetShortcuts()">As they were</button>
        <button class="push strong" @click="open = false">Close</button>
      </div>
    </div>
  </v-dialog>
</template>

<style scoped>
.sheet-of-keys {
  padding: 18px 20px;
  display: grid;
  gap: 12px;
  color: var(--ink);
}
ul {
  columns: 2;
  column-gap: 28px;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  align-items: center;
  padding: 3px 0;
  break-inside: avoid;
  border-bottom: 1px solid var(--rule);
  font-size: 13px;
}
.actions {
  display: flex;
  justify-content: flex-end;
  gap: 10px;
}
@media (max-width: 700px) {
  ul {
    columns: 1;
  }
}
</style>
