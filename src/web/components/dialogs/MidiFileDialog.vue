<script setup lang="ts">
/** A MIDI file before it becomes a pattern: which track, how its notes find sounds, with its tempo or without. */
import { computed, watch } from 'vue';
import { songValues } from '#core/queries/values.ts';
import { useDialogs } from '../../stores/frame/dialogs.ts';
import { useMidiFiles } from '../../stores/pattern/midi-files.ts';
import { useProject } from '../../stores/document/project.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import { countWords } from '../shelf/shelf-words.ts';

const files = useMidiFiles();
const project = useProject();
const dialogs = useDialogs();
const isOpen = computed({
  get: () => files.opened !== null,
  set: (open) => {
    if (!open) leave();
  },
});
watch(
  () => dialogs.midiFile,
  async (file) => {
    // What cannot be read has been told, and is put away again.
    if (file && !(await files.open(file))) leave();
  },
  { immediate: true },
);

function leave(): void {
  files.opened = null;
  dialogs.midiFile = null;
}

function make(): void {
  files.lay();
  leave();
}
const tracks = computed(() =>
  (files.opened?.song.tracks ?? []).map(({ name, notes }, index) => ({
    value: index,
    words: `${name || `track ${index + 1}`}, ${countWords(notes.length, 'note')}`,
  })),
);
const mappings = [
  { value: 'key', words: 'by their keys' },
  { value: 'role', words: 'as drums' },
  { value: 'pitch', words: 'as one melody' },
] as const;
const tempo = computed(() => files.opened?.song.tempoBpm ?? null);
const own = computed(() => (project.document ? songValues(project.document).tempoBpm : 0));
</script>

<template>
  <v-dialog v-model="isOpen" max-width="520" aria-label="Pattern from a MIDI file">
    <v-card v-if="files.opened" class="midi-file" data-testid="midi-file">
      <v-card-title class="one-line">{{ files.opened.fileName }}</v-card-title>
      <v-card-text>
        <ChoiceField label="track" :model-value="files.trackIndex" :choices="tracks" @put="files.chooseTrack($event)" />
        <ChoiceField
          label="notes find their sounds"
          hint="By the key each lies on; kick, snare and hat by the keys that drums have by agreement; or all as notes of one sound: the chosen one, or what lies over several keys"
          spread
          :model-value="files.mapping"
          :choices="mappings"
          @put="files.mapping = $event"
        />
        <v-checkbox
          v-if="tempo !== null"
          v-model="files.takesTempo"
          hide-details
          :label="`the song takes its tempo: ${tempo.toFixed(2)} instead of ${own.toFixed(2)} bpm`"
        />
        <p class="quiet" data-testid="midi-found">
          {{ countWords(files.found.strips.length, 'note') }} in {{ countWords(files.bars, 'bar')
          }}<template v-if="files.found.without > 0"> · {{ files.found.without }} find no sound here</template>
        </p>
        <p v-if="files.problem" role="alert">{{ files.problem }}</p>
      </v-card-text>
      <v-card-actions>
        <v-btn @click="leave()">Leave it</v-btn>
        <v-btn class="strong" :disabled="files.found.strips.length === 0" @click="make()">Make a pattern</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.midi-file :deep(.v-card-text) {
  display: grid;
  gap: 10px;
}
</style>
