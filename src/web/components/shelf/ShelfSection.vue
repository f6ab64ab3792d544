<script setup lang="ts">
/** One list of the shelf under its heading; `li`s go into the slot, those that only say something get the class `none`. */
defineProps<{ title: string; level: 1 | 2; testId: string }>();
</script>

<template>
  <section :aria-labelledby="`${testId}-title`">
    <div class="head">
      <component :is="`h${level}`" :id="`${testId}-title`">{{ title }}</component>
      <slot name="tools" />
    </div>
    <ul class="sheet" :data-testid="testId">
      <slot />
    </ul>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  align-items: center;
  gap: 18px;
  margin-bottom: 8px;
}
h1,
h2 {
  font-size: 26px;
  font-weight: 700;
}
:slotted(li) {
  display: grid;
  align-items: center;
  gap: 14px;
  padding: 7px 14px;
  border-bottom: 1px solid var(--rule);
}
:slotted(li:last-child) {
  border-bottom: 0;
}
:slotted(li:hover) {
  background: var(--paper);
}
:slotted(li.none) {
  display: block;
  padding: 24px;
}
</style>
