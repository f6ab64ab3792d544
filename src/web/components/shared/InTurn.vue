<script setup lang="ts">
/** What is inside is built when its turn comes: see turns.ts. */
import { onBeforeUnmount, ref } from 'vue';
import { takeTurn } from './turns.ts';

const isReady = ref(false);
const giveUp = takeTurn(() => (isReady.value = true));
onBeforeUnmount(giveUp);
</script>

<template>
  <slot v-if="isReady" />
</template>
