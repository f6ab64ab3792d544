<script setup lang="ts">
/** What is selected: strips of the pattern, slices, or the part itself; whoever has something selected still sees the part. */
import { computed, defineAsyncComponent, onMounted, ref, watch } from 'vue';
import { useSession } from '../../stores/session.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import InTurn from '../shared/InTurn.vue';
import { takeTurn } from '../shared/turns.ts';
import PartDetails from './PartDetails.vue';

// No part of the first load: fetched when there is time, or when something is selected before that.
const fetchSlice = () => import('./SliceDetails.vue');
const fetchStrip = () => import('./StripDetails.vue');
const SliceDetails = defineAsyncComponent(fetchSlice);
const StripDetails = defineAsyncComponent(fetchStrip);
onMounted(() => {
  requestIdleCallback(() => void fetchSlice());
  requestIdleCallback(() => void fetchStrip());
});

type Scope = 'part' | 'slice' | 'strip';
const session = useSession();
/** What is selected is what one wants to see. */
function selectedScope(): Scope {
  return session.eventIds.length > 0 ? 'strip' : session.selectedZones.length > 0 ? 'slice' : 'part';
}
const wanted = ref(selectedScope());

const counted = (count: number, one: string, words: string) => (count === 1 ? one : `${count} ${words}`);
const scopes = computed(() => {
  const { selectedZones: zones, selectedEvents: strips } = session;
  const first = zones[0]?.at.index ?? -1;
  return [
    { value: 'part' as const, words: 'part' },
    ...(zones.length > 0
      ? [{ value: 'slice' as const, words: counted(zones.length, first < 0 ? 'loop' : `slice ${first + 1}`, 'slices') }]
      : []),
    ...(strips.length > 0 ? [{ value: 'strip' as const, words: counted(strips.length, 'strip', 'strips') }] : []),
  ];
});
const scope = computed<Scope>(() => (scopes.value.some(({ value }) => value === wanted.value) ? wanted.value : 'part'));
/** In the next frame: what was shown is taken down then, and the click itself has been answered. */
watch([() => session.eventIds, () => session.sliceIds, () => session.zoneIds], () =>
  takeTurn(() => {
    // Who works on the part and plays its keys goes on working on the part.
    if (!session.isChosenByPlaying || wanted.value !== 'part') wanted.value = selectedScope();
  }),
);
</script>

<template>
  <div v-if="session.part" class="panel">
    <InTurn v-if="scopes.length > 1">
      <ChoiceField
        class="scopes"
        label="Details of"
        spread
        :show-label="false"
        :model-value="scope"
        :choices="scopes"
        @put="wanted = $event"
      />
    </InTurn>
    <InTurn v-if="scope === 'strip'"><StripDetails /></InTurn>
    <InTurn v-else-if="scope === 'slice'"><SliceDetails /></InTurn>
    <PartDetails v-else />
  </div>
</template>

<style scoped>
.scopes {
  padding-bottom: 10px;
}
</style>
