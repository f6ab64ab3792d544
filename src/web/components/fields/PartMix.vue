<script setup lang="ts">
/** Level and pan of a part: in the details with their names, in the narrow rail without. */
import { setPart, type PartSettings } from '#core/project/commands/parts.ts';
import type { Part } from '#core/project/schema.ts';
import { useProject } from '../../stores/project.ts';
import DocumentField from './DocumentField.vue';

const { part, narrow = false } = defineProps<{ part: Part; narrow?: boolean }>();
const project = useProject();

function put(label: string, settings: PartSettings): void {
  project.run(label, setPart, { partId: part.id, settings });
}
</script>

<template>
  <DocumentField
    label="level"
    :class="{ fader: narrow }"
    :show-label="!narrow"
    :model-value="part.gainDb"
    :min="-60"
    :max="12"
    :step="0.5"
    :digits="1"
    :reset="0"
    unit="dB"
    @put="put('level', { gainDb: $event })"
  />
  <DocumentField
    label="pan"
    hint="Left to right"
    :class="{ fader: narrow }"
    :show-label="!narrow"
    :model-value="part.pan * 100"
    :min="-100"
    :max="100"
    :step="5"
    :reset="0"
    :unit="narrow ? '% pan' : '%'"
    @put="put('pan', { pan: $event / 100 })"
  />
</template>

<style scoped>
.fader {
  flex: 1 0 60px;
}
</style>
