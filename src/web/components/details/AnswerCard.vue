<script setup lang="ts">
/** How sounds answer their keys: which keys, whole or held, from where to where, and what goes round in them. */
import { computed } from 'vue';
import { layZone } from '#core/project/commands/zones.ts';
import { setValue, valueOf, type Owner } from '#core/project/commands/values.ts';
import { keyName } from '../../canvas/key-names.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import DocumentField from '../fields/DocumentField.vue';
import ParamField from '../fields/ParamField.vue';
import DetailCard from './DetailCard.vue';
import SoundLoopRow from './SoundLoopRow.vue';

const { owners } = defineProps<{ owners: readonly Owner[] }>();
const project = useProject();
const session = useSession();

const only = computed(() => (session.selectedZones.length === 1 ? session.selectedZones[0]! : null));
const read = (param: string) => owners[0] && valueOf(project.document!, owners[0], param);
const isWholeLoop = computed(() => only.value?.zone.plays.kind === 'loop');
const goesRound = computed(() => read('loopMode') !== 'off');
const keys = computed(() => only.value?.keys ?? null);
const isRange = computed(() => keys.value !== null && keys.value.high > keys.value.low);
const note = computed(() => {
  if (!only.value) return '';
  if (!keys.value) return 'no key';
  const { low, high } = keys.value;
  return low === high ? keyName(low) : `${keyName(low)} to ${keyName(high)}`;
});

function setKey(end: 'low' | 'high' | 'root', key: number): void {
  if (!only.value) return;
  const before = keys.value ?? { low: key, high: key, root: key };
  const next = { ...before, [end]: key };
  if (end === 'low') next.high = Math.max(next.high, key);
  if (end === 'high') next.low = Math.min(next.low, key);
  project.run('keys', layZone, { zoneId: only.value.zone.id, keys: next });
}

function toRoot(): void {
  const { midi, cents } = only.value!.at.slice;
  if (midi === null) return;
  project.step('root as heard', () => {
    setKey('root', midi);
    project.run('', setValue, { owners, param: 'tuneCents', change: { to: -(cents ?? 0) } });
  });
}
</script>

<template>
  <DetailCard id="zone-answer" title="Answers" :note="note">
    <ParamField class="bare" :owners="owners" param="answer" spread :show-label="false" />
    <div v-if="only" class="three" data-testid="zone-keys">
      <DocumentField
        label="from"
        stacked
        :unit="keyName(keys?.low ?? 60)"
        :model-value="keys?.low ?? 60"
        :min="0"
        :max="127"
        undo="keys"
        @put="setKey('low', $event)"
      />
      <DocumentField
        label="to"
        stacked
        :unit="keyName(keys?.high ?? 60)"
        :model-value="keys?.high ?? 60"
        :min="0"
        :max="127"
        undo="keys"
        @put="setKey('high', $event)"
      />
      <DocumentField
        label="root"
        stacked
        :unit="keyName(keys?.root ?? 60)"
        hint="The key that plays it as it is"
        :model-value="keys?.root ?? 60"
        :min="0"
        :max="127"
        undo="keys"
        @put="setKey('root', $event)"
      />
    </div>
    <template v-if="isRange || !only">
      <ParamField :owners="owners" param="followsKey" />
      <ParamField :owners="owners" param="keepsLength" />
      <v-btn
        v-if="only && only.at.slice.midi !== null"
        data-tip="The note that was heard in it is the root, and its cents the tuning"
        @click="toRoot"
        >root as heard: {{ keyName(only.at.slice.midi) }} {{ Math.round(only.at.slice.cents ?? 0) }} ct</v-btn
      >
    </template>
    <ParamField v-if="isWholeLoop" :owners="owners" param="startsAt" />
    <template v-else>
      <div class="pair">
        <ParamField :owners="owners" param="startOffsetMs" stacked />
        <ParamField :owners="owners" param="endOffsetMs" stacked />
      </div>
      <ParamField :owners="owners" param="runsOn" />
      <ParamField :owners="owners" param="loopMode" />
      <ParamField v-if="goesRound" :owners="owners" param="loopUntil" />
      <SoundLoopRow v-if="goesRound && only" :placed="only" />
      <ParamField :owners="owners" param="dealWeight" label="in deals" />
    </template>
  </DetailCard>
</template>

<style scoped>
.three {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 5px;
}
</style>
