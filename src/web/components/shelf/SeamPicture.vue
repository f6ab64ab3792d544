<script setup lang="ts">
/** The seam of a loop: the levels of its start, and of what comes after its end. */
import { computed } from 'vue';

const { start, after } = defineProps<{ start: readonly number[]; after: readonly number[] }>();
const line = (levels: readonly number[]) =>
  levels.map((level, i) => `${i === 0 ? 'M' : 'L'}${i} ${(100 - 96 * level).toFixed(1)}`).join('');
const width = computed(() => Math.max(1, start.length - 1));
</script>

<template>
  <svg class="seam" :viewBox="`0 0 ${width} 100`" preserveAspectRatio="none" aria-hidden="true">
    <path class="under" :d="`${line(start)}V100H0Z`" />
    <path class="after" :d="line(after)" />
    <path class="start" :d="line(start)" />
  </svg>
</template>

<style scoped>
.seam {
  display: block;
  width: 100%;
  height: 100%;
  background: var(--paper);
}
path {
  fill: none;
  stroke-width: 1.6;
  vector-effect: non-scaling-stroke;
}
.under {
  fill: var(--sea);
  opacity: 0.22;
}
.start {
  stroke: var(--ink);
}
.after {
  stroke: var(--signal);
}
</style>
