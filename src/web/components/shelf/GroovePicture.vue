<script setup lang="ts">
/** A groove as its steps: a thin line where the grid is, a bar where the step sounds, as tall as its accent. */
import { computed } from 'vue';
import type { Groove } from '#core/document/schema.ts';

const { groove } = defineProps<{ groove: Groove }>();

const STEP = 10;
const HEIGHT = 26;
/** An accent twice as loud as the mean reaches the top. */
const MAX_ACCENT = 2;
/** Two bars of sixteenths; of longer grooves the beginning is shown. */
const MAX_STEPS = 32;

const shown = computed(() => groove.steps.slice(0, MAX_STEPS));
const bars = computed(() =>
  shown.value.map(({ shift, accent }, step) => ({
    step,
    x: (step + 0.5 + shift) * STEP,
    height: Math.max(2, (Math.min(MAX_ACCENT, accent) / MAX_ACCENT) * HEIGHT),
  })),
);
</script>

<template>
  <svg :viewBox="`0 0 ${shown.length * STEP} ${HEIGHT}`" preserveAspectRatio="none" aria-hidden="true">
    <g v-for="{ step, x, height } in bars" :key="step">
      <line :x1="(step + 0.5) * STEP" :x2="(step + 0.5) * STEP" :y1="0" :y2="HEIGHT" class="grid" />
      <rect :x="x - 1.5" :y="HEIGHT - height" width="3" :height="height" class="step" />
    </g>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  height: 100%;
}
.grid {
  stroke: var(--rule);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}
.step {
  fill: var(--sea);
}
</style>
