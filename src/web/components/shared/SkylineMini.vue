<script setup lang="ts">
/** A small skyline from a few peak levels, standing on its base line. */
import { computed } from 'vue';
import { liftLevel } from '../../canvas/draw.ts';

const props = withDefaults(defineProps<{ levels: readonly number[]; colour?: string }>(), { colour: 'var(--sea)' });

const path = computed(() => {
  const top = Math.max(0.02, ...props.levels);
  const steps = props.levels.map((level, i) => {
    const y = (1 - liftLevel(level / top)) * 100;
    return `L${i} ${y.toFixed(1)} L${i + 0.86} ${y.toFixed(1)} L${i + 0.86} 100`;
  });
  return `M0 100 ${steps.join(' ')} Z`;
});
</script>

<template>
  <svg class="mini" :viewBox="`0 0 ${levels.length || 1} 100`" preserveAspectRatio="none" aria-hidden="true">
    <path :d="path" :fill="colour" />
  </svg>
</template>

<style scoped>
.mini {
  display: block;
  width: 100%;
  height: 100%;
}
</style>
