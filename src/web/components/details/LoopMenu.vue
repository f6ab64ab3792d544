<script setup lang="ts">
/** What else can be done with a loop: trimmed to a tempo, begun on its first hit, given to the song, read otherwise. */
import { computed } from 'vue';
import { readNameHints } from '#core/analysis/name-hints.ts';
import type { Loop } from '#core/document/schema.ts';
import { setValue } from '#core/project/commands/values.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import IconButton from '../shared/IconButton.vue';

const props = defineProps<{
  tempo: number;
  /** Frames that the loop is longer than at its tempo in whole beats a minute. */
  framesOver: number;
  /** Readings that do not stand side by side. */
  more: readonly { reading: Loop; bpm: number }[];
  barWords: (reading: Loop) => string;
}>();
const emit = defineEmits<{ put: [label: string, change: Partial<Loop>]; trim: [tempoBpm: number] }>();
const project = useProject();
const session = useSession();
const loop = computed(() => session.cut!.loop!);
const rounded = computed(() => Math.round(props.tempo));
const namedBpm = computed(() => readNameHints(session.source!.name).bpm);
const firstHit = computed(() => session.placed.find((at) => at.slice.strength > 0.3)?.startFrame ?? 0);

/** Begins the loop on its first hit; it keeps its length as far as the sound goes. */
function startOnFirstHit(): void {
  const startFrame = firstHit.value;
  const frames = loop.value.endFrame - loop.value.startFrame;
  emit('put', 'start on the first hit', {
    startFrame,
    endFrame: Math.min(session.source!.frames, startFrame + frames),
  });
}

/** The song takes this loop's tempo. */
function giveTempo(): void {
  const change = { to: Math.round(props.tempo * 1000) / 1000 };
  project.run('tempo of the loop', setValue, { owners: [{ kind: 'song' }], param: 'tempoBpm', change });
}
</script>

<template>
  <v-menu>
    <template #activator="{ props: menu }">
      <IconButton v-bind="menu" icon="more" words="More for the loop" />
    </template>
    <v-list>
      <v-list-item
        v-if="framesOver !== 0"
        :title="`trim to ${rounded}`"
        subtitle="the edit is of the loop; the source stays"
        @click="emit('trim', rounded)"
      />
      <v-list-item
        v-if="namedBpm"
        :title="`trim to ${namedBpm}`"
        subtitle="the tempo in its name"
        @click="emit('trim', namedBpm)"
      />
      <v-list-item title="start on the first hit" :disabled="firstHit === loop.startFrame" @click="startOnFirstHit" />
      <v-list-item title="use its tempo for the song" :disabled="tempo < 20 || tempo > 400" @click="giveTempo" />
      <template v-if="more.length > 0">
        <v-divider role="presentation" />
        <v-list-item
          v-for="{ reading, bpm } in more"
          :key="Object.values(reading).join('/')"
          :title="`read as ${barWords(reading)}, ${bpm.toFixed(2)} bpm`"
          @click="emit('put', 'read the loop', reading)"
        />
      </template>
    </v-list>
  </v-menu>
</template>
