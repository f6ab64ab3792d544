<script setup lang="ts">
/** A point of a curve to drag, or to move by the arrow keys; whose curve it is gives it its looks: curve.css. */
const {
  x,
  y,
  words,
  now,
  says,
  size = 6,
} = defineProps<{
  x: number;
  y: number;
  words: string;
  /** Where it is, and that in words. */
  now: number;
  says: string;
  size?: number;
}>();
</script>

<template>
  <circle
    :cx="x"
    :cy="y"
    :r="size"
    class="handle"
    role="slider"
    tabindex="0"
    :aria-label="words"
    :aria-valuenow="Math.round(now)"
    :aria-valuetext="says"
    :data-tip="`${words}: ${says}`"
  />
</template>
