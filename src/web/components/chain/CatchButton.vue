<script setup lang="ts">
/** Repeats what has just sounded for as long as it is pressed; the setting itself stays as it was. */
import { onBeforeUnmount, ref } from 'vue';
import type { Effect } from '#core/document/schema.ts';
import { setValue } from '#core/project/commands/values.ts';
import type { Gesture } from '../../stores/document/gesture.ts';
import { useProject } from '../../stores/document/project.ts';

const { effect } = defineProps<{ effect: Effect }>();
const project = useProject();
const isPressed = ref(false);
let gesture: Gesture | null = null;

function press(): void {
  if (isPressed.value) return;
  isPressed.value = true;
  gesture = project.begin('catch');
  project.run('catch', setValue, { owners: [{ kind: 'effect', id: effect.id }], param: 'caught', change: { to: 1 } });
}

/** No step is left of it: what was played with is no change of the project. */
function release(): void {
  isPressed.value = false;
  gesture?.cancel();
  gesture = null;
}
onBeforeUnmount(release);
</script>

<template>
  <v-btn
    block
    :class="{ strong: isPressed }"
    :aria-pressed="isPressed"
    data-tip="Press and hold: what sounded last comes again and again; by a key, put “catch” on a dial"
    @pointerdown="press"
    @pointerup="release"
    @pointerleave="release"
    @pointercancel="release"
    @keydown.space.prevent="press"
    @keyup.space.prevent="release"
    @blur="release"
    >hold to catch</v-btn
  >
</template>
