<script setup lang="ts">
/** A small skyline from a few peak levels, standing on its base line; in one colour or in the slices' own. */
import { computed } from 'vue';
import { liftLevel } from '../../canvas/draw.ts';

const props = withDefaults(
  defineProps<{ levels: readonly number[]; colour?: string; colours?: readonly string[] | null }>(),
  { colour: 'var(--sea)', colours: null },
);

/** One path a colour. */
const paths = computed(() => {
  const top = Math.max(0.02, ...props.levels);
  const byColour = new Map<string, string>();
  props.levels.forEach((level, i) => {
    const y = ((1 - liftLevel(level / top)) * 100).toFixed(1);
    const colour = props.colours?.[i] ?? props.colour;
    byColour.set(colour, `${byColour.get(colour) ?? ''}M${i} 100V${y}H${i + 0.9}V100Z`);
  });
  return [...byColour];
});
</script>

<template>
  <svg class="mini" :viewBox="`0 0 ${levels.length || 1} 100`" preserveAspectRatio="none" aria-hidden="true">
    <path v-for="[fill, path] in paths" :key="fill" :d="path" :fill="fill" />
  </svg>
</template>

<style scoped>
.mini {
  display: block;
  width: 100%;
  height: 100%;
}
</style>
