<script setup lang="ts">
/** The screen where one project is worked on: three bands in the order of the work. */
import { computed, defineAsyncComponent } from 'vue';
import DetailsPanel from '../components/details/DetailsPanel.vue';
import PlaceFrame from '../components/frame/PlaceFrame.vue';
import KeysBand from '../components/keys/KeysBand.vue';
import PatternBand from '../components/pattern/PatternBand.vue';
import InTurn from '../components/shared/InTurn.vue';
import SourceBand from '../components/source/SourceBand.vue';
import { useProject } from '../stores/document/project.ts';

/** An empty project has it alone. */
const FirstSteps = defineAsyncComponent(() => import('../components/frame/FirstSteps.vue'));

const project = useProject();
const isEmpty = computed(() => project.document?.partOrder.length === 0);
</script>

<template>
  <PlaceFrame v-if="isEmpty" title="Bench" headless><FirstSteps /></PlaceFrame>
  <PlaceFrame v-else title="Bench" headless>
    <div class="bands">
      <InTurn><SourceBand class="source-band" /></InTurn>
      <InTurn><KeysBand class="keys-band" /></InTurn>
      <InTurn><PatternBand class="pattern-band" /></InTurn>
    </div>
    <template #details><DetailsPanel /></template>
  </PlaceFrame>
</template>

<style scoped>
.bands {
  flex: 1;
  display: flex;
  flex-direction: column;
  gap: 2px;
  min-width: 0;
  min-height: 0;
  /* Bands have a least height: where that is not there they are scrolled. */
  overflow: hidden auto;
  scrollbar-width: thin;
}
.source-band {
  flex: 1.4 0 178px;
}
.keys-band {
  flex: 0 0 clamp(108px, 20.5vh, 168px);
}
.keys-band.grown {
  flex: 1;
}
.pattern-band {
  flex: 1.55 0 216px;
}
/* In a small window each band keeps its height, and the place is scrolled. */
@media (max-width: 859px) {
  .bands {
    flex: none;
    overflow: visible;
  }
  .source-band {
    flex: 0 0 290px;
  }
  .source-band.grown {
    flex-basis: 680px;
  }
  .keys-band {
    flex: 0 0 150px;
  }
  .pattern-band {
    flex: 0 0 290px;
  }
}
</style>
