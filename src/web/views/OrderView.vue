<script setup lang="ts">
/** What plays now, part by part, with patterns to switch; or what plays when: the sections of the running order. */
import { useStorage } from '@vueuse/core';
import { computed } from 'vue';
import { songValues } from '#core/queries/values.ts';
import { orderSeconds } from '#core/order/seconds.ts';
import { formatSeconds, framesPerTick, TICKS_PER_BEAT } from '#core/units/time.ts';
import ChannelCard from '../components/details/ChannelCard.vue';
import DetailHead from '../components/details/DetailHead.vue';
import FeelCard from '../components/details/FeelCard.vue';
import SongCard from '../components/details/SongCard.vue';
import TimeCard from '../components/details/TimeCard.vue';
import FirstSteps from '../components/frame/FirstSteps.vue';
import PlaceFrame from '../components/frame/PlaceFrame.vue';
import InTurn from '../components/shared/InTurn.vue';
import ChoiceField from '../components/fields/ChoiceField.vue';
import IconButton from '../components/shared/IconButton.vue';
import OrderSheet from '../components/order/OrderSheet.vue';
import PatternTray from '../components/order/PatternTray.vue';
import PlacingCard from '../components/order/PlacingCard.vue';
import SectionCard from '../components/order/SectionCard.vue';
import SectionLanes from '../components/order/SectionLanes.vue';
import OrderBus from '../components/order/OrderBus.vue';
import OrderPart from '../components/order/OrderPart.vue';
import { useProject } from '../stores/document/project.ts';
import { useSession } from '../stores/document/session.ts';
import { SNAPS, useOrder } from '../stores/order/order.ts';
import { useWriteDown } from '../stores/order/write-down.ts';
import { useBuses } from '../stores/sound/buses.ts';
import { useTransport } from '../stores/sound/transport.ts';

const project = useProject();
const session = useSession();
const transport = useTransport();
const buses = useBuses();
const order = useOrder();
const writeDown = useWriteDown();
/** What is shown: what is on now, or the sections. */
const room = useStorage<'now' | 'sections'>('yappa.order', 'now');
const ROOMS = [
  { value: 'now' as const, words: 'on now' },
  { value: 'sections' as const, words: 'sections' },
];
const parts = computed(() => project.document!.partOrder.map((id) => project.document!.parts[id]!));
const facts = computed(() => {
  const { layout } = transport;
  // How many bars it has stands in the sheet, where there is room.
  if (room.value === 'sections' && layout) return formatSeconds(orderSeconds(layout)).slice(0, -4);
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
      <ChoiceField label="room" :show-label="false" spread :model-value="room" :choices="ROOMS" @put="room = $event" />
      <v-btn
        :aria-pressed="writeDown.isOn"
        data-tip="What you switch and mute while it plays becomes a section when it stops"
        @click="writeDown.toggle()"
        >write what I play</v-btn
      >
      <template v-if="room === 'sections'">
        <ChoiceField
          label="snap"
          :show-label="false"
          hint="Placed patterns are dragged in steps of this"
          class="snap"
          :model-value="order.snap"
          :choices="SNAPS"
          @put="order.snap = $event"
        />
        <IconButton
          icon="narrower"
          words="narrower"
          :disabled="order.barWidth <= 6"
          @click="order.barWidth = Math.max(6, order.barWidth / 1.5)"
        />
        <IconButton
          icon="wider"
          words="wider"
          :disabled="order.barWidth >= 240"
          @click="order.barWidth = Math.min(240, order.barWidth * 1.5)"
        />
        <v-btn data-tip="A section in which everybody plays what is on now" @click="order.add(true)"
          >add a section</v-btn
        >
      </template>
      <v-btn
        v-if="room === 'now'"
        data-tip="A channel that several parts are led or sent to, with a chain of its own"
        @click="buses.add()"
        >add a bus</v-btn
      >
    </template>
    <template v-if="room === 'sections'">
      <div v-if="order.shown.length === 0" class="none sheet" data-testid="no-sections">
        <p>Sections come one after the other: each with its bars, its tempo, and who plays which pattern in it.</p>
        <v-btn @click="order.add(true)">begin with what is on now</v-btn>
        <v-btn @click="order.add(false)">begin with four empty bars</v-btn>
      </div>
      <OrderSheet v-else />
      <SectionLanes v-if="order.section" :shown="order.section" />
      <PatternTray v-if="session.part && order.shown.length > 0" />
    </template>
    <div v-else class="parts sheet">
      <InTurn v-for="part in parts" :key="part.id"><OrderPart :part="part" /></InTurn>
      <OrderBus v-for="bus in buses.buses" :key="bus.id" :bus="bus" />
    </div>
    <template #details>
      <template v-if="room === 'sections' && order.section">
        <DetailHead :title="order.section.section.name" />
        <SectionCard :shown="order.section" />
        <PlacingCard v-if="order.placing" :placing="order.placing" :shown="order.section" />
      </template>
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
.none {
  padding: 24px;
  display: grid;
  gap: 12px;
  justify-items: start;
}
.snap {
  width: 128px;
}
.parts {
  flex: 1;
  min-height: 0;
  overflow-y: auto;
  scrollbar-width: thin;
}
</style>
