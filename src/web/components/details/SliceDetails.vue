<script setup lang="ts">
/** The selected slices: where they lie and how they sound; one change sets all of them. */
import { computed } from 'vue';
import { peakBetween } from '#core/dsp/peaks.ts';
import { removeSlices } from '#core/project/commands/cut.ts';
import { setValue } from '#core/project/commands/values.ts';
import { zoneValues } from '#core/queries/values.ts';
import { useEditing } from '../../stores/editing.ts';
import { usePreview } from '../../stores/preview.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import { useTransport } from '../../stores/transport.ts';
import EnvelopeSetting from '../fields/EnvelopeSetting.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';
import SkylineMini from '../shared/SkylineMini.vue';
import DetailCard from './DetailCard.vue';
import DetailHead from './DetailHead.vue';
import FilterCard from './FilterCard.vue';
import SliceFactsCard from './SliceFactsCard.vue';
import SlicePlaceCard from './SlicePlaceCard.vue';
import TogetherChoice from './TogetherChoice.vue';

const project = useProject();
const session = useSession();
const editing = useEditing();
const preview = usePreview();
const transport = useTransport();
const STRETCHES = 60;

const chosen = computed(() => session.selectedSlices);
const first = computed(() => chosen.value[0]!);
const isSingle = computed(() => chosen.value.length === 1);
const owners = computed(() => editing.selectedZones());
const zones = computed(() => chosen.value.flatMap(({ slice }) => session.zoneBySlice.get(slice.id)?.zone ?? []));
const isReversed = computed(() => zones.value.every((zone) => zoneValues(zone).reverse));
const isLocked = computed(() => chosen.value.every((at) => at.slice.locked));
const hasOwnEnds = computed(() => chosen.value.every((at) => at.slice.endFrame !== null));
const title = computed(() => (isSingle.value ? `Slice ${first.value.index + 1}` : `${chosen.value.length} slices`));
const levels = computed(() => {
  const peaks = session.loaded?.peaks;
  if (!peaks) return [];
  const { startFrame, endFrame } = first.value;
  const each = (endFrame - startFrame) / STRETCHES;
  return Array.from({ length: STRETCHES }, (_, i) =>
    peakBetween(peaks, startFrame + i * each, startFrame + (i + 1) * each),
  );
});
const lengthMs = computed(
  () => ((first.value.endFrame - first.value.startFrame) / (session.loaded?.sampleRate ?? 44100)) * 1000,
);
const colour = computed(() => session.colours[first.value.index] ?? 'var(--sea)');

function hear(): void {
  const zone = zones.value[0];
  if (zone) transport.playZone(zone.id);
}

function reverse(): void {
  const change = { to: !isReversed.value };
  project.run('reverse slices', setValue, { owners: owners.value, param: 'reverse', change });
}
</script>

<template>
  <DetailHead :title="title" :note="isSingle ? first.label : ''">
    <template v-if="isSingle" #picture><SkylineMini :levels="levels" :colour="colour" /></template>
    <IconButton icon="hear" words="hear it" @click="hear" />
    <IconButton
      icon="backwards"
      words="backwards"
      hint="Play these slices backwards wherever they play"
      :pressed="isReversed"
      @click="reverse"
    />
    <IconButton
      icon="lock"
      words="lock"
      hint="Locked slices stay when hits are found again"
      action="lock"
      :pressed="isLocked"
      @click="editing.lockSelected()"
    />
    <IconButton
      icon="ownEnd"
      words="own end"
      hint="An end of its own, or up to the next marker"
      :pressed="hasOwnEnds"
      @click="editing.ownEnds(!hasOwnEnds)"
    />
    <IconButton
      icon="cut"
      words="trim silence"
      hint="Leave the silence around the sound out"
      @click="editing.trimSelected()"
    />
    <IconButton
      icon="round"
      words="loop it"
      action="loop-slice"
      :pressed="preview.previewId === session.cut!.sourceId"
      @click="editing.loopSelected()"
    />
    <IconButton v-if="!isSingle" icon="join" words="join them" action="merge" @click="editing.mergeSelected()" />
    <IconButton
      v-else
      icon="join"
      words="join to the one before"
      hint="Remove the marker: the slice is joined to the one before"
      @click="project.run('remove slices', removeSlices, { cutId: session.cut!.id, sliceIds: session.sliceIds })"
    />
  </DetailHead>
  <TogetherChoice v-if="!isSingle" />
  <SlicePlaceCard v-if="isSingle" />
  <DetailCard id="slice-sound" title="Sound">
    <div class="three">
      <ParamField :owners="owners" param="gainDb" stacked />
      <ParamField :owners="owners" param="tuneCents" stacked />
      <ParamField :owners="owners" param="pan" stacked />
    </div>
    <ParamField :owners="owners" param="answer" spread />
  </DetailCard>
  <DetailCard id="slice-level" title="Shape of the level">
    <EnvelopeSetting :owners="owners" :length-ms="lengthMs" :levels="levels" :colour="colour" :height="72" />
  </DetailCard>
  <SliceFactsCard />
  <FilterCard :owners="owners" />
</template>

<style scoped>
.three {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 5px;
}
.three :deep(.value) {
  min-width: 0;
}
</style>
