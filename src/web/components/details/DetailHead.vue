<script setup lang="ts">
/** What the details are of: its name, what it is, a picture, and what can be done to it as one row of icons. */
import InTurn from '../shared/InTurn.vue';

defineProps<{
  title: string;
  note?: string;
  /** The icons stand beside the title: for few of them. */
  beside?: boolean;
}>();
defineSlots<{ picture?(): unknown; default?(): unknown }>();
</script>

<template>
  <header class="head" :class="{ beside }">
    <div class="title">
      <h2 class="one-line" :data-tip="title">{{ title }}</h2>
      <span v-if="note" class="note one-line">{{ note }}</span>
    </div>
    <div v-if="$slots.picture" class="picture"><slot name="picture" /></div>
    <div v-if="$slots.default" class="icons">
      <InTurn><slot /></InTurn>
    </div>
  </header>
</template>

<style scoped>
.head {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 7px;
  padding-bottom: 9px;
}
.head.beside {
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
}
.title {
  display: flex;
  align-items: baseline;
  gap: 8px;
}
.note {
  flex: none;
  max-width: 60%;
  color: var(--sea);
  font-size: 14px;
  font-weight: 600;
}
.picture {
  height: 46px;
  border-bottom: 1px solid var(--ink);
}
.icons {
  display: flex;
  gap: 4px;
  flex-wrap: wrap;
  min-height: 30px;
}
</style>
