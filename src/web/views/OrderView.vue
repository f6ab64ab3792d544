<script setup lang="ts">
/** What plays now: every part with its patterns to switch, its level, pan and meter. */
import { computed } from 'vue';
import { songValues } from '#core/queries/values.ts';
import { formatSeconds, framesPerTick, TICKS_PER_BEAT } from '#core/units/time.ts';
import ChannelCard from '../components/details/ChannelCard.vue';
import DetailHead from '../components/details/DetailHead.vue';
import FeelCard from '../components/details/FeelCard.vue';
import SongCard from '../components/details/SongCard.vue';
import TimeCard from '../components/details/TimeCard.vue';
import FirstSteps from '../components/frame/FirstSteps.vue';
import PlaceFrame from '../components/frame/PlaceFrame.vue';
import InTurn from '../components/shared/InTurn.vue';
import OrderBus from '../components/order/OrderBus.vue';
import OrderPart from '../components/order/OrderPart.vue';
import { useProject } from '../stores/document/project.ts';
import { useSession } from '../stores/document/session.ts';
import { useBuses } from '../stores/sound/buses.ts';
import { useTransport } from '../stores/sound/transport.ts';

const project = useProject();
const session = useSession();
const transport = useTransport();
const buses = useBuses();
const parts = computed(() => project.document!.partOrder.map((id) => project.document!.parts[id]!));
const facts = computed(() => {
  const { tempoBpm, beatsPerBar } = songValues(project.document!);
  const ticks = transport.roundTicks();
  const bars = ticks / (beatsPerBar * TICKS_PER_BEAT);
  const seconds = ticks * framesPerTick(tempoBpm, 1);
  const counted = `${parts.value.length} ${parts.value.length === 1 ? 'part' : 'parts'}`;
  return `${counted} · a round of ${Number(bars.toFixed(2))} bars, ${formatSeconds(seconds)}`;
});
</script>

<template>
  <PlaceFrame v-if="parts.length === 0" title="Running order"><FirstSteps /></PlaceFrame>
  <PlaceFrame v-else title="Running order">
    <template #facts>
      <span data-testid="order-facts">{{ facts }}</span>
    </template>
    <template #tools>
      <v-btn data-tip="A channel that several parts are led or sent to, with a chain of its own" @click="buses.add()"
        >add a bus</v-btn
      >
    </template>
    <div class="parts sheet">
      <InTurn v-for="part in parts" :key="part.id"><OrderPart :part="part" /></InTurn>
      <OrderBus v-for="bus in buses.buses" :key="bus.id" :bus="bus" />
    </div>
    <template #details>
      <DetailHead v-if="session.part" :title="session.part.name" />
      <template v-if="session.part">
        <ChannelCard :part="session.part" />
        <TimeCard />
        <FeelCard />
      </template>
      <SongCard />
    </template>
  </PlaceFrame>
</template>

<style scoped>
.parts {
  flex: 1;
  min-height: 0;
  overflow-y: auto;
  scrollbar-width: thin;
}
</style>
