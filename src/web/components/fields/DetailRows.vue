<script setup lang="ts">
/** A titled list of settings, ruled like a ledger. */
defineProps<{ title: string; note?: string }>();
</script>

<template>
  <section class="rows">
    <h2>
      {{ title }} <span v-if="note" class="note">{{ note }}</span>
    </h2>
    <slot />
  </section>
</template>

<style scoped>
.rows h2 {
  margin-bottom: 6px;
  overflow-wrap: anywhere;
}
.note {
  color: var(--sea);
  font-size: 13px;
  font-weight: 600;
  margin-left: 4px;
}
.rows :deep(.row),
.rows :deep(.number) {
  display: grid;
  grid-template-columns: 72px 1fr;
  align-items: baseline;
  gap: 6px;
  border-bottom: 1px solid var(--rule);
  padding: 4px 0;
  font-size: 14px;
}
.rows :deep(.number .value) {
  border-bottom: 0;
}
.rows :deep(.row > :first-child) {
  font-size: 13px;
  color: var(--ink-quiet);
}
.rows :deep(.row select) {
  width: 100%;
  min-width: 0;
}
.rows :deep(.buttons) {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  padding-top: 8px;
}
</style>
