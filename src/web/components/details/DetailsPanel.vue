<script setup lang="ts">
/** What is selected, in numbers that can be typed over: strips of the pattern, slices, or else the part itself. */
import { computed } from 'vue';
import { useSession } from '../../stores/session.ts';
import PartDetails from './PartDetails.vue';
import SongDetails from './SongDetails.vue';
import SliceDetails from './SliceDetails.vue';
import StripDetails from './StripDetails.vue';

const session = useSession();
const hasSlices = computed(() => session.selectedSlices.length > 0);
</script>

<template>
  <aside class="details" aria-label="Details">
    <StripDetails v-if="session.selectedEvents.length > 0" />
    <SliceDetails v-if="hasSlices" />
    <PartDetails v-if="session.part && !hasSlices" />
    <SongDetails v-if="!hasSlices && session.selectedEvents.length === 0" />
  </aside>
</template>

<style scoped>
.details {
  background: var(--sheet);
  border-left: 1px solid var(--rule);
  padding: 14px 16px;
  overflow-y: auto;
  min-height: 0;
  display: flex;
  flex-direction: column;
  gap: 18px;
}
</style>
