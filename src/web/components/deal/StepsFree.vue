<script setup lang="ts">
/** The steps of the pattern: light ones may be dealt, dark ones stay. */
import { computed } from 'vue';
import { useSession } from '../../stores/document/session.ts';
import { ribbonImage } from '../shared/ribbon.ts';

const { freeIds } = defineProps<{ freeIds: ReadonlySet<string> }>();
const session = useSession();
const COLOURS = new Map([
  ['free', 'var(--rule)'],
  ['stays', 'var(--ink)'],
]);
const image = computed(() => {
  const steps = session.events.map((event) => ({ ...event, zoneId: freeIds.has(event.id) ? 'free' : 'stays' }));
  return ribbonImage(steps, session.lengthTicks, COLOURS);
});
const words = computed(() => `${freeIds.size} of ${session.events.length} steps may be dealt; the dark ones stay`);
</script>

<template>
  <div class="steps" role="img" :aria-label="words" :data-tip="words" :style="{ backgroundImage: image }" />
</template>

<style scoped>
.steps {
  height: 12px;
}
</style>
