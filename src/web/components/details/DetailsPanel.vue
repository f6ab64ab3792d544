<script setup lang="ts">
/** What is selected: strips of the pattern, slices, or the part itself; whoever has something selected still sees the part. */
import { computed, defineAsyncComponent, onMounted, watch } from 'vue';
import { useHelpers } from '../../stores/keys/helpers.ts';
import { useSession, type DetailScope } from '../../stores/document/session.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import InTurn from '../shared/InTurn.vue';
import { takeTurn } from '../shared/turns.ts';
import { whenQuiet } from '../../when-quiet.ts';
import PartDetails from './PartDetails.vue';

// No part of the first load: fetched when there is time, or when something is selected before that.
const fetchSlice = () => import('./SliceDetails.vue');
const fetchStrip = () => import('./StripDetails.vue');
const SliceDetails = defineAsyncComponent(fetchSlice);
const StripDetails = defineAsyncComponent(fetchStrip);
const DealDetails = defineAsyncComponent(() => import('../deal/DealDetails.vue'));
const HelperDetails = defineAsyncComponent(() => import('../helpers/HelperDetails.vue'));
const SOON_MS = 600;
onMounted(() => whenQuiet(() => Promise.all([fetchSlice(), fetchStrip()]), SOON_MS));

const session = useSession();
const helpers = useHelpers();
/** What is selected is what one wants to see. */
function selectedScope(): DetailScope {
  return session.eventIds.length > 0 ? 'strip' : session.selectedZones.length > 0 ? 'slice' : 'part';
}
if (session.detailsOf !== 'deal') session.detailsOf = selectedScope();

const counted = (count: number, one: string, words: string) => {
  if (count === 1) return one;
  // Where a helper is chosen, too, there is no room for numbers.
  return helpers.chosen ? words : `${count} ${words}`;
};
const scopes = computed(() => {
  const { selectedZones: zones, selectedEvents: strips } = session;
  const first = zones[0]?.at.index ?? -1;
  return [
    { value: 'part' as const, words: 'part' },
    ...(zones.length > 0
      ? [{ value: 'slice' as const, words: counted(zones.length, first < 0 ? 'loop' : `slice ${first + 1}`, 'slices') }]
      : []),
    ...(strips.length > 0 ? [{ value: 'strip' as const, words: counted(strips.length, 'strip', 'strips') }] : []),
    ...(helpers.chosen ? [{ value: 'helper' as const, words: helpers.chosen.kind as string }] : []),
    { value: 'deal' as const, words: 'deal' },
  ];
});
const scope = computed<DetailScope>(() =>
  scopes.value.some(({ value }) => value === session.detailsOf) ? session.detailsOf : 'part',
);
/** In the next frame: what was shown is taken down then, and the click itself has been answered. */
watch([() => session.eventIds, () => session.sliceIds, () => session.zoneIds], () =>
  takeTurn(() => {
    // Who works on the part and plays its keys goes on working on the part.
    if (session.isChosenByPlaying && (session.detailsOf === 'part' || session.detailsOf === 'helper')) return;
    // Who deals chooses strips, and hears sounds, to deal on.
    const next = selectedScope();
    if (session.detailsOf !== 'deal' || next === 'slice') session.detailsOf = next;
  }),
);
</script>

<template>
  <div v-if="session.part" class="panel">
    <InTurn>
      <ChoiceField
        class="scopes"
        label="Details of"
        spread
        :show-label="false"
        :model-value="scope"
        :choices="scopes"
        @put="session.detailsOf = $event"
      />
    </InTurn>
    <InTurn v-if="scope === 'strip'"><StripDetails /></InTurn>
    <InTurn v-else-if="scope === 'slice'"><SliceDetails /></InTurn>
    <InTurn v-else-if="scope === 'deal'"><DealDetails /></InTurn>
    <InTurn v-else-if="scope === 'helper' && helpers.chosen"><HelperDetails :key="helpers.chosen.id" /></InTurn>
    <PartDetails v-else />
  </div>
</template>

<style scoped>
.scopes {
  padding-bottom: 10px;
}
</style>
