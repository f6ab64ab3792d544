<script setup lang="ts">
/** The first parts of the project as ribbons, one over the other. */
import { computed } from 'vue';
import { useProject } from '../../stores/document/project.ts';
import PartRibbon from '../shared/PartRibbon.vue';

/** @param most parts that the picture has room for */
const { most = 4 } = defineProps<{ most?: number }>();
const project = useProject();
const parts = computed(() => project.document!.partOrder.slice(0, most).map((id) => project.document!.parts[id]!));
</script>

<template>
  <div class="ribbons">
    <span v-for="part in parts" :key="part.id" class="ribbon"><PartRibbon :part="part" /></span>
  </div>
</template>

<style scoped>
.ribbons {
  display: grid;
  gap: 4px;
  height: 100%;
  grid-auto-rows: minmax(0, 1fr);
}
.ribbon {
  min-height: 0;
}
</style>
