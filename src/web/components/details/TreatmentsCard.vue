<script setup lang="ts">
/** Ways to sound of the part, on the bench. */
import { computed, defineAsyncComponent } from 'vue';
import type { Part } from '#core/document/schema.ts';
import { useTreating } from '../../stores/sound/treating.ts';
import DetailCard from './DetailCard.vue';

// Folded at first.
const TreatmentList = defineAsyncComponent(() => import('../shape/TreatmentList.vue'));
const { part } = defineProps<{ part: Part }>();
const treating = useTreating();
const note = computed(() => treating.statesOf(part).find(({ isOn }) => isOn)?.name ?? '');
</script>

<template>
  <DetailCard id="treatments" title="Treatments" :note="note" folded><TreatmentList :part="part" /></DetailCard>
</template>
