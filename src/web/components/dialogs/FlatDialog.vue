<script setup lang="ts">
/** How the pitch of the chosen sound is made flat, and where it comes. */
import { computed } from 'vue';
import { FLAT_ROWS, type FlatValues } from '#core/params/flat-rows.ts';
import { keyName } from '../../canvas/key-names.ts';
import { useDialogs } from '../../stores/frame/dialogs.ts';
import { useFlattening } from '../../stores/keys/flattening.ts';
import { useSession } from '../../stores/document/session.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import RowField from '../fields/RowField.vue';

const dialogs = useDialogs();
const session = useSession();
const flattening = useFlattening();
const placed = computed(() => session.zoneById.get(dialogs.flatZoneId ?? '') ?? null);
const isOpen = computed({
  get: () => placed.value !== null,
  set: (open) => {
    if (!open) dialogs.flatZoneId = null;
  },
});
const NEAREST = -1;
const [LOWEST, HIGHEST] = [24, 96];
const notes = computed(() => [
  { value: NEAREST, words: 'the nearest to what is heard' },
  ...Array.from({ length: HIGHEST - LOWEST + 1 }, (_, i) => ({ value: LOWEST + i, words: keyName(LOWEST + i) })),
]);
const PLACES = [
  { value: 'keys' as const, words: 'over free keys' },
  { value: 'in-place' as const, words: 'in its place' },
];
const rows = ['percent', 'keepsFormants'] as const;

function put(row: keyof FlatValues, value: number | string | boolean): void {
  flattening.values = { ...flattening.values, [row]: value };
}

function make(): void {
  if (placed.value) void flattening.flatten(placed.value);
  isOpen.value = false;
}
</script>

<template>
  <v-dialog v-model="isOpen" max-width="480" aria-label="Make a pitch flat">
    <v-card v-if="placed" class="flat" data-testid="flat">
      <v-card-title class="one-line">Make the pitch of {{ placed.at.label || 'the loop' }} flat</v-card-title>
      <v-card-text>
        <p class="quiet">
          A voice, a bass or another single line that glides and wavers comes on one note. Its time stays: over the keys
          it is an instrument, each key as long as this.
        </p>
        <RowField
          v-for="row in rows"
          :key="row"
          :row="FLAT_ROWS[row]"
          :model-value="flattening.values[row]"
          @put="put(row, $event)"
        />
        <ChoiceField
          label="to"
          :choices="notes"
          :model-value="flattening.note ?? NEAREST"
          @put="flattening.note = $event === NEAREST ? null : $event"
        />
        <ChoiceField
          label="comes"
          hint="Over free keys of the part, around its note; or into the loop, where it was"
          spread
          :choices="PLACES"
          :model-value="flattening.place"
          @put="flattening.place = $event"
        />
      </v-card-text>
      <v-card-actions>
        <v-btn @click="isOpen = false">Leave it</v-btn>
        <v-btn class="strong" @click="make()">Make it flat</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.flat :deep(.v-card-text) {
  display: grid;
  gap: 10px;
}
.flat :deep(.number),
.flat :deep(.choice) {
  display: grid;
  grid-template-columns: 64px minmax(0, 1fr);
  align-items: center;
}
</style>
