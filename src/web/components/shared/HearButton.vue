<script setup lang="ts">
/** Plays something, or stops it. */
import IconButton from './IconButton.vue';

defineProps<{ name: string; playing: boolean }>();
</script>

<template>
  <IconButton
    class="hear"
    :class="{ playing }"
    :icon="playing ? 'stop' : 'play'"
    :words="`${playing ? 'Stop' : 'Play'} ${name}`"
    variant="text"
  />
</template>

<style scoped>
.playing {
  background: var(--signal);
  color: #fff;
}
</style>
