<script setup lang="ts">
/** What a part plays now, as a ribbon. */
import { computed } from 'vue';
import type { Part } from '#core/document/schema.ts';
import { eventsOf, patternLengthTicks } from '#core/queries/patterns.ts';
import { useProject } from '../../stores/document/project.ts';
import PatternMini from './PatternMini.vue';
import { useZoneColours } from './use-zone-colours.ts';

const { part } = defineProps<{ part: Part }>();
const project = useProject();
const events = computed(() => eventsOf(project.document!, part.activePatternId));
const lengthTicks = computed(() => patternLengthTicks(project.document!, part.activePatternId));
const colourById = useZoneColours(() => part);
</script>

<template>
  <PatternMini :events="events" :length-ticks="lengthTicks" :colour-by-id="colourById" />
</template>
