<script setup lang="ts">
/** The loop's own timing, and another's laid over it. */
import { computed, defineAsyncComponent } from 'vue';
import type { Owner } from '#core/project/commands/values.ts';
import { partValues } from '#core/queries/values.ts';
import { useSession } from '../../stores/document/session.ts';
import ParamField from '../fields/ParamField.vue';
import DetailCard from './DetailCard.vue';
import { untilQuiet } from '../../when-quiet.ts';

// Below what is seen first.
const DriftPicture = defineAsyncComponent(() => untilQuiet().then(() => import('./DriftPicture.vue')));
const GrooveRow = defineAsyncComponent(() => untilQuiet().then(() => import('./GrooveRow.vue')));

const session = useSession();
const owners = computed<Owner[]>(() => [{ kind: 'part', id: session.part!.id }]);
const note = computed(() => {
  const { feelPercent } = partValues(session.part!);
  if (session.part!.groove) return session.part!.groove.name;
  return feelPercent === 100 ? 'as played' : `${feelPercent} %`;
});
</script>

<template>
  <DetailCard id="feel" title="Feel" :note="note">
    <DriftPicture v-if="session.cut?.loop" />
    <ParamField :owners="owners" param="feelPercent" test-id="feel" />
    <ParamField :owners="owners" param="feelStep" test-id="feel-step" />
    <GrooveRow />
    <ParamField :owners="owners" param="startOffsetTicks" />
  </DetailCard>
</template>
