<script setup lang="ts">
/** What is to be said of a loop's reading: slices that it leaves out, and what the file's name says, each with its cure. */
import { computed } from 'vue';
import { isTempoNamed, readNameHints } from '#core/analysis/name-hints.ts';
import type { Loop } from '#core/document/schema.ts';
import { useSession } from '../../stores/document/session.ts';

const props = defineProps<{
  tempo: number;
  /** A reading from the hit on that it means. */
  fromItsHit: (reading: Loop) => Loop;
}>();
const emit = defineEmits<{ put: [label: string, change: Partial<Loop>]; trim: [tempoBpm: number] }>();
const session = useSession();
const loop = computed(() => session.cut!.loop!);

/** Slices that the loop's own order does not play. */
const early = computed(() => session.placed.filter((at) => at.startFrame < loop.value.startFrame));
const late = computed(() => session.placed.filter((at) => at.startFrame >= loop.value.endFrame));
const slicesWords = (count: number) => (count === 1 ? 'one slice lies' : `${count} slices lie`);

/** Where the name says otherwise than the loop is read, a click reads it so. */
const hints = computed(() => readNameHints(session.source!.name));
const isReadAsNamed = computed(() => !hints.value.bpm || isTempoNamed(props.tempo, hints.value.bpm));
function readAsNamed(): void {
  const named = hints.value.bpm!;
  const reading = session.cut!.tempoReadings.find(({ bpm }) => isTempoNamed(bpm, named));
  if (!reading) return emit('trim', named);
  const { startFrame, endFrame, bars, beatsPerBar } = props.fromItsHit(reading);
  emit('put', 'read the loop', { startFrame, endFrame, bars, beatsPerBar });
}
</script>

<template>
  <p v-if="early.length > 0" class="outside small" data-testid="early-slices">
    {{ slicesWords(early.length) }} before it, and its own order leaves {{ early.length === 1 ? 'it' : 'them' }} out.
    <v-btn @click="emit('put', 'start of the loop', { startFrame: early[0]!.startFrame })">begin there</v-btn>
  </p>
  <p v-if="late.length > 0" class="outside small" data-testid="late-slices">
    {{ slicesWords(late.length) }} behind it, and its own order leaves {{ late.length === 1 ? 'it' : 'them' }} out.
    <v-btn @click="emit('put', 'end of the loop', { endFrame: session.source!.frames })">end with the sound</v-btn>
  </p>
  <p v-if="hints.bpm || hints.key" class="small" :class="isReadAsNamed ? 'quiet' : 'outside'">
    The name says {{ [hints.bpm ? `${hints.bpm} bpm` : '', hints.key ?? ''].filter(Boolean).join(', ') }}.
    <v-btn v-if="!isReadAsNamed" @click="readAsNamed">read it so</v-btn>
  </p>
</template>

<style scoped>
.outside {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
}
</style>
