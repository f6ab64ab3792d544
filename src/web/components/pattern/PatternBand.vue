<script setup lang="ts">
/** The pattern: as a ribbon with threads among the bands, as rows by sound over the full height. */
import { computed, defineAsyncComponent } from 'vue';
import { isHome } from '#core/document/home-id.ts';
import { useTransport } from '../../stores/sound/transport.ts';
import { useSession } from '../../stores/document/session.ts';
import BandFrame from '../shared/BandFrame.vue';
import InTurn from '../shared/InTurn.vue';
import DealRow from '../deal/DealRow.vue';
import PatternRibbon from './PatternRibbon.vue';
import PatternTabs from './PatternTabs.vue';
import PatternTools from './PatternTools.vue';

// Fetched when the band is grown.
const PatternRows = defineAsyncComponent(() => import('./PatternRows.vue'));
// And when there is something to say.
const OrderLine = defineAsyncComponent(() => import('./OrderLine.vue'));
const UnheardLine = defineAsyncComponent(() => import('./UnheardLine.vue'));
const session = useSession();
const transport = useTransport();
const isGrown = computed(() => session.grownBand === 'pattern');
</script>

<template>
  <BandFrame band="pattern" title="Pattern">
    <template #facts><PatternTabs v-if="session.part" :key="session.part.id" /></template>
    <template v-if="session.part" #tools
      ><InTurn><PatternTools /></InTurn
    ></template>
    <div class="stage-and-deal">
      <PatternRows v-if="isGrown" class="stage" />
      <PatternRibbon v-else class="stage" />
      <UnheardLine v-if="session.part && session.unheard.size > 0" />
      <OrderLine v-if="session.part && transport.followsOrder && transport.playing" />
      <div v-if="session.part" class="deal-area">
        <InTurn><DealRow :is-home="isHome(session.patternId)" :tall="isGrown" /></InTurn>
      </div>
    </div>
  </BandFrame>
</template>

<style scoped>
.stage-and-deal {
  display: flex;
  flex-direction: column;
  height: 100%;
}
.deal-area {
  flex: none;
  min-height: 46px;
}
.stage {
  flex: 1;
  min-height: 0;
}
</style>
