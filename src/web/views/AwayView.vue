<script setup lang="ts">
/** What can leave the project as files: ticked rows with what they will be, one sum, one button; how loud the mix is. */
import { watchDebounced } from '@vueuse/core';
import { computed, onMounted } from 'vue';
import AwayDetails from '../components/away/AwayDetails.vue';
import AwaySum from '../components/away/AwaySum.vue';
import MidiRow from '../components/away/MidiRow.vue';
import MixRow from '../components/away/MixRow.vue';
import InstrumentRow from '../components/away/InstrumentRow.vue';
import PageRow from '../components/away/PageRow.vue';
import ProjectRow from '../components/away/ProjectRow.vue';
import StemsRow from '../components/away/StemsRow.vue';
import SlicesRow from '../components/away/SlicesRow.vue';
import SourceRow from '../components/away/SourceRow.vue';
import FirstSteps from '../components/frame/FirstSteps.vue';
import PlaceFrame from '../components/frame/PlaceFrame.vue';
import InTurn from '../components/shared/InTurn.vue';
import { useProject } from '../stores/document/project.ts';
import { useTakeAway } from '../stores/away/take-away.ts';

/** Longer mixes are measured when they are asked for. */
const MEASURED_SECONDS = 90;
const MEASURE_AFTER_MS = 700;

const project = useProject();
const away = useTakeAway();
const isEmpty = computed(() => project.document!.partOrder.length === 0);

function measure(): void {
  if (away.mixSeconds > 0 && away.mixSeconds <= MEASURED_SECONDS) void away.measure();
}
/** The mix as it is, whatever of the document it follows from. */
watchDebounced(
  () => {
    const { rounds, onlyPartId, ringOut, way, sampleRate } = away.settings.mix;
    return [project.document, rounds, onlyPartId, ringOut, way, sampleRate];
  },
  measure,
  { debounce: MEASURE_AFTER_MS },
);
onMounted(measure);
</script>

<template>
  <PlaceFrame v-if="isEmpty" title="Take away"><FirstSteps /></PlaceFrame>
  <PlaceFrame v-else title="Take away" details-label="Before it goes">
    <template #facts>what can leave {{ project.document!.name }}; the music plays on meanwhile</template>
    <div class="rows sheet">
      <InTurn><MixRow /></InTurn>
      <InTurn><StemsRow /></InTurn>
      <InTurn><SlicesRow /></InTurn>
      <InTurn><MidiRow /></InTurn>
      <InTurn><InstrumentRow /></InTurn>
      <InTurn><SourceRow /></InTurn>
      <InTurn><ProjectRow /></InTurn>
      <InTurn><PageRow /></InTurn>
    </div>
    <AwaySum />
    <template #details><AwayDetails /></template>
  </PlaceFrame>
</template>

<style scoped>
.rows {
  flex: 0 1 auto;
  overflow-y: auto;
  min-height: 0;
  scrollbar-width: thin;
}
</style>
