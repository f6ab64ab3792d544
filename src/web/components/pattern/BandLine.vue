<script setup lang="ts">
/** A line under the pattern: what is to be known of it, and what can be done about it. */
defineProps<{ words: string; tip: string }>();
</script>

<template>
  <p class="line small" role="status">
    <span class="one-line" :data-tip="tip">{{ words }}</span>
    <slot />
  </p>
</template>

<style scoped>
.line {
  display: flex;
  align-items: center;
  gap: 10px;
  margin: 0;
  padding: 3px 8px;
  border-top: 1px solid var(--rule);
  color: var(--ink);
}
.one-line {
  flex: 1;
  min-width: 0;
}
</style>
