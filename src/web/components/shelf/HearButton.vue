<script setup lang="ts">
/** Plays something on the shelf, or stops it. */
defineProps<{ name: string; playing: boolean }>();
</script>

<template>
  <button class="hear" :aria-pressed="playing" :aria-label="`${playing ? 'Stop' : 'Play'} ${name}`" title="Hear it">
    <svg viewBox="0 0 24 24" aria-hidden="true">
      <path :d="playing ? 'M6 6h12v12H6z' : 'M7 4l13 8-13 8z'" fill="currentColor" />
    </svg>
  </button>
</template>

<style scoped>
.hear {
  width: 28px;
  height: 28px;
  border: 1px solid var(--rule);
  border-radius: 3px;
  display: grid;
  place-items: center;
}
.hear svg {
  width: 14px;
}
.hear[aria-pressed='true'] {
  background: var(--signal);
  color: #fff;
  border-color: var(--signal);
}
</style>
