<script setup lang="ts">
/** A pattern as a ribbon of stripes in slice colours. */
import { computed } from 'vue';
import type { PatternEvent } from '#core/document/schema.ts';
import { ribbonImage } from './ribbon.ts';

const { events, lengthTicks, colourById } = defineProps<{
  events: readonly PatternEvent[];
  lengthTicks: number;
  /** Colours by the zones that the events play. */
  colourById: ReadonlyMap<string, string>;
}>();
const image = computed(() => ribbonImage(events, lengthTicks, colourById));
</script>

<template>
  <span class="ribbon" :style="{ backgroundImage: image }" aria-hidden="true" />
</template>

<style scoped>
.ribbon {
  display: block;
  height: 100%;
  width: 100%;
}
</style>
