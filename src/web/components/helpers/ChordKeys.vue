<script setup lang="ts">
/** The notes of a chord above the key that is pressed, on a small keyboard: each is put in or taken out by a press. */
import { computed } from 'vue';
import type { Helper } from '#core/document/schema.ts';
import { useHelpers } from '../../stores/keys/helpers.ts';
import { chordKeys } from './helper-pictures.ts';

const { helper } = defineProps<{ helper: Helper }>();
const helpers = useHelpers();
const keys = computed(() => chordKeys(helper));
</script>

<template>
  <div class="keys" role="group" aria-label="Notes above the pressed key" data-testid="chord-keys">
    <v-btn
      v-for="key in keys"
      :key="key.semitones"
      class="key"
      :class="{ black: key.isBlack, on: key.isOn }"
      :aria-label="`${key.semitones} semitones above`"
      :aria-pressed="key.isOn"
      :data-tip="key.semitones === 0 ? 'The pressed key itself' : `${key.semitones} semitones above it`"
      @click="helpers.toggleNote(helper.id, key.semitones)"
    />
  </div>
</template>

<style scoped>
.keys {
  display: flex;
  gap: 1px;
  height: 46px;
  align-items: flex-start;
}
.key.key {
  flex: 1 1 0;
  min-width: 0;
  height: 46px;
  padding: 0;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0 0 2px 2px;
}
.key.black {
  height: 30px;
  background: var(--ink);
}
.key.on {
  background: var(--sea);
}
</style>
