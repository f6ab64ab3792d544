<script setup lang="ts">
/** What a print of the chosen part is to be. */
import { computed } from 'vue';
import { patternName } from '#core/queries/patterns.ts';
import { useDialogs } from '../../stores/frame/dialogs.ts';
import { useProject } from '../../stores/document/project.ts';
import { usePrinting } from '../../stores/sound/printing.ts';
import ChoiceField from '../fields/ChoiceField.vue';

const dialogs = useDialogs();
const project = useProject();
const printing = usePrinting();
const part = computed(() => project.document?.parts[dialogs.printPartId ?? ''] ?? null);
const isOpen = computed({
  get: () => part.value !== null,
  set: (open) => {
    if (!open) dialogs.printPartId = null;
  },
});
const pattern = computed(() => (part.value ? patternName(project.document!, part.value) : ''));
const ROUNDS = [1, 2, 4, 8].map((value) => ({ value, words: `${value}` }));
const WAYS = [
  { value: 'with', words: 'with its chain' },
  { value: 'without', words: 'without it' },
] as const;
const PLACES = [
  { value: 'beside', words: 'beside it' },
  { value: 'instead', words: 'in its place' },
  { value: 'key', words: 'on a key of it' },
] as const;

function print(): void {
  if (part.value) void printing.print(part.value);
  isOpen.value = false;
}
</script>

<template>
  <v-dialog v-model="isOpen" max-width="520" aria-label="Print a part">
    <v-card v-if="part" class="print" data-testid="print">
      <v-card-title class="one-line">Print {{ part.name }}</v-card-title>
      <v-card-text>
        <p class="quiet">What “{{ pattern }}” sounds like becomes a sound of its own, cut where its strips begin.</p>
        <ChoiceField
          class="row"
          label="rounds"
          hint="What chance makes of each, too"
          spread
          :model-value="printing.settings.rounds"
          :choices="ROUNDS"
          @put="printing.settings.rounds = $event"
        />
        <ChoiceField
          class="row"
          label="sounds"
          hint="Without it, it comes as it goes into the chain, before its level and all that is behind"
          spread
          :model-value="printing.settings.withChain ? 'with' : 'without'"
          :choices="WAYS"
          @put="printing.settings.withChain = $event === 'with'"
        />
        <ChoiceField
          class="row"
          label="comes"
          hint="On a key of it: in one piece, as one more of its sounds"
          spread
          :model-value="printing.settings.place"
          :choices="PLACES"
          @put="printing.settings.place = $event"
        />
        <v-checkbox v-model="printing.settings.ringsOut" hide-details label="with its tail, behind the loop's end" />
      </v-card-text>
      <v-card-actions>
        <v-btn @click="isOpen = false">Leave it</v-btn>
        <v-btn class="strong" @click="print()">Print</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 64px minmax(0, 1fr);
  align-items: center;
}
.print :deep(.v-card-text) {
  display: grid;
  gap: 10px;
}
</style>
