<script setup lang="ts">
/** What leaves the part: level and pan, how its slices stop, whether tails ring into the next round. */
import { computed, defineAsyncComponent } from 'vue';
import type { NumberRow } from '#core/params/row.ts';
import { formatValue } from '#core/params/row.ts';
import { CHANNEL_ROWS } from '#core/params/tables.ts';
import { setValue, type Owner } from '#core/project/commands/values.ts';
import type { Part } from '#core/document/schema.ts';
import { channelValues, partValues } from '#core/queries/values.ts';
import { useProject } from '../../stores/document/project.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import ParamField from '../fields/ParamField.vue';
import DetailCard from './DetailCard.vue';

const SendsRows = defineAsyncComponent(() => import('./SendsRows.vue'));

const { part } = defineProps<{ part: Part; folded?: boolean }>();
const project = useProject();
const channelOwner = computed<Owner[]>(() => [{ kind: 'channel', id: part.channelId }]);
const partOwner = computed<Owner[]>(() => [{ kind: 'part', id: part.id }]);
const level = computed(() => channelValues(project.document!.channels[part.channelId]!).gainDb);
const rounds = [
  { value: 'ring', words: 'ring over' },
  { value: 'cut', words: 'are cut' },
] as const;

function setRounds(to: 'ring' | 'cut'): void {
  const change = { to: to === 'ring' };
  project.run('tails at the end', setValue, { owners: partOwner.value, param: 'ringOver', change });
}
</script>

<template>
  <DetailCard
    id="channel"
    title="Channel"
    :folded="folded"
    :note="formatValue(CHANNEL_ROWS.gainDb as NumberRow, level)"
  >
    <div class="pair">
      <ParamField :owners="channelOwner" param="gainDb" stacked />
      <ParamField :owners="channelOwner" param="pan" stacked />
    </div>
    <SendsRows :channel-id="part.channelId" />
    <ParamField :owners="partOwner" param="stopFadeMs" />
    <ChoiceField
      label="tails at end"
      hint="What sounds when a round of the pattern ends"
      spread
      :model-value="partValues(part).ringOver ? 'ring' : 'cut'"
      :choices="rounds"
      @put="setRounds"
    />
  </DetailCard>
</template>
