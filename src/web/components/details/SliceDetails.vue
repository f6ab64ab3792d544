<script lang="ts">
import { shallowRef } from 'vue';

/** Settings that were copied: they stay while something else is chosen. */
const copied = shallowRef<Zone['values'] | null>(null);
</script>

<script setup lang="ts">
/** The selected slices: where they lie and how they sound; one change sets all of them. */
import { computed, defineAsyncComponent } from 'vue';
import { peakBetween } from '#core/dsp/peaks.ts';
import { removeSlices } from '#core/project/commands/cut.ts';
import { setValue } from '#core/project/commands/values.ts';
import { zoneValues } from '#core/queries/values.ts';
import { pasteValues, setZoneDefaults } from '#core/project/commands/zones.ts';
import type { Zone } from '#core/document/schema.ts';
import { useDialogs } from '../../stores/frame/dialogs.ts';
import { useEditing } from '../../stores/document/editing.ts';
import { useLaying } from '../../stores/keys/laying.ts';
import { useNotices } from '../../stores/frame/notices.ts';
import { usePartSounds } from '../../stores/sound/part-sounds.ts';
import { usePicking } from '../../stores/keys/picking.ts';
import { usePreview } from '../../stores/sound/preview.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { useTransport } from '../../stores/sound/transport.ts';
import { useTrimming } from '../../stores/source/trimming.ts';
import EnvelopeSetting from '../fields/EnvelopeSetting.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';
import SkylineMini from '../shared/SkylineMini.vue';
import AnswerCard from './AnswerCard.vue';
import DetailCard from './DetailCard.vue';
import DetailHead from './DetailHead.vue';
import FilterCard from './FilterCard.vue';
import MovedByCard from './MovedByCard.vue';
import SliceFactsCard from './SliceFactsCard.vue';
import SlicePlaceCard from './SlicePlaceCard.vue';
import StrengthCard from './StrengthCard.vue';
import TogetherChoice from './TogetherChoice.vue';

/** Fetched when they are wanted. */
const TrimRow = defineAsyncComponent(() => import('./TrimRow.vue'));
const ApartCard = defineAsyncComponent(() => import('../apart/ApartCard.vue'));

const project = useProject();
const session = useSession();
const editing = useEditing();
const preview = usePreview();
const transport = useTransport();
const laying = useLaying();
const notices = useNotices();
const picking = usePicking();
const dialogs = useDialogs();
const sounds = usePartSounds();
const trimming = useTrimming();
const STRETCHES = 60;

/** What lies on keys, and the slices that it plays: a whole loop on a key is none. */
const chosen = computed(() => session.selectedZones);
const slices = computed(() => session.selectedSlices);
const first = computed(() => chosen.value[0]!);
const isSingle = computed(() => chosen.value.length === 1);
const owners = computed(() => editing.selectedZones());
const zones = computed(() => chosen.value.map(({ zone }) => zone));
const zoneIds = computed(() => zones.value.map(({ id }) => id));
const otherParts = computed(() => {
  const { partOrder, parts } = project.document!;
  return partOrder.filter((id) => id !== session.part?.id).map((id) => parts[id]!);
});
const isReversed = computed(() => zones.value.every((zone) => zoneValues(zone).reverse));
const isMuted = computed(() => zones.value.every((zone) => zoneValues(zone).muted));
const isSoloed = computed(() => zones.value.every((zone) => zoneValues(zone).soloed));
const isLocked = computed(() => slices.value.length > 0 && slices.value.every((at) => at.slice.locked));
const hasOwnEnds = computed(() => slices.value.length > 0 && slices.value.every((at) => at.slice.endFrame !== null));
const title = computed(() => {
  if (!isSingle.value) return `${chosen.value.length} slices`;
  return first.value.at.index < 0 ? 'Whole loop' : `Slice ${first.value.at.index + 1}`;
});
const sound = computed(() => sounds.soundOf(first.value.cut.id));
const levels = computed(() => {
  const { peaks } = sound.value;
  if (!peaks) return [];
  const { startFrame, endFrame } = first.value.at;
  const each = (endFrame - startFrame) / STRETCHES;
  return Array.from({ length: STRETCHES }, (_, i) =>
    peakBetween(peaks, startFrame + i * each, startFrame + (i + 1) * each),
  );
});
const lengthMs = computed(
  () => ((first.value.at.endFrame - first.value.at.startFrame) / sound.value.sampleRate) * 1000,
);
const colour = computed(() => sounds.colourOf(first.value));

function hear(): void {
  const zone = zones.value[0];
  if (zone) transport.playZone(zone.id);
}

function toggle(label: string, param: 'reverse' | 'muted' | 'soloed', is: boolean): void {
  project.run(label, setValue, { owners: owners.value, param, change: { to: !is } });
}

/** Settings of the first, for others. */
function copy(): void {
  copied.value = first.value.zone.values;
}

function paste(): void {
  if (copied.value)
    project.run('paste settings', pasteValues, { zoneIds: zones.value.map(({ id }) => id), values: copied.value });
}

function makeStandard(): void {
  if (project.run('settings for new slices', setZoneDefaults, { values: first.value.zone.values })) {
    notices.info('New slices of this project begin with these settings.');
  }
}

/** The chosen hit on a key of its own: as a sound by itself, which no marker touches any more. */
function pick(): void {
  const { sourceId } = first.value.cut;
  const sourceName = project.document!.sources[sourceId]!.name;
  const ranges = chosen.value.map(({ at }) => ({ startFrame: at.startFrame, endFrame: at.endFrame }));
  laying.awaitKeyFor(sourceName, (key) => void picking.put({ sourceId, sourceName, ranges }, key));
}
</script>

<template>
  <DetailHead v-if="first" :title="title" :note="isSingle && first.at.index >= 0 ? first.at.label : ''">
    <template v-if="isSingle" #picture><SkylineMini :levels="levels" :colour="colour" /></template>
    <IconButton icon="hear" words="hear it" @click="hear" />
    <IconButton
      icon="backwards"
      words="backwards"
      hint="Play these slices backwards wherever they play"
      :pressed="isReversed"
      @click="toggle('reverse slices', 'reverse', isReversed)"
    />
    <IconButton
      icon="mute"
      words="mute"
      hint="Not heard, neither by keys nor in patterns"
      :pressed="isMuted"
      @click="toggle('mute slices', 'muted', isMuted)"
    />
    <IconButton
      icon="solo"
      words="solo"
      hint="Hear only these of the part"
      :pressed="isSoloed"
      @click="toggle('solo slices', 'soloed', isSoloed)"
    />
    <IconButton
      icon="learn"
      words="to a key"
      hint="Lay it on the key that is pressed next"
      action="learn-key"
      @click="laying.learn()"
    />
    <IconButton
      v-if="slices.length > 0"
      icon="lock"
      words="lock"
      hint="Locked slices stay when hits are found again"
      action="lock"
      :pressed="isLocked"
      @click="editing.lockSelected()"
    />
    <IconButton
      v-if="slices.length > 0"
      icon="ownEnd"
      words="own end"
      hint="An end of its own, or up to the next marker"
      :pressed="hasOwnEnds"
      @click="editing.ownEnds(!hasOwnEnds)"
    />
    <IconButton
      v-if="slices.length > 0"
      icon="cut"
      words="trim silence"
      hint="Leave the silence around the sound out: shown first"
      :pressed="trimming.levelDb !== null"
      @click="trimming.toggle()"
    />
    <IconButton
      v-if="slices.length > 0"
      icon="round"
      words="loop it"
      action="loop-slice"
      :pressed="preview.previewId === session.cut!.sourceId"
      @click="editing.loopSelected()"
    />
    <IconButton
      v-if="slices.length > 1"
      icon="join"
      words="join them"
      action="merge"
      @click="editing.mergeSelected()"
    />
    <IconButton
      v-else-if="slices.length === 1"
      icon="join"
      words="join to the one before"
      hint="Remove the marker: the slice is joined to the one before"
      @click="project.run('remove slices', removeSlices, { cutId: session.cut!.id, sliceIds: session.sliceIds })"
    />
    <v-menu>
      <template #activator="{ props: menu }"><IconButton v-bind="menu" icon="more" words="more for these" /></template>
      <v-list>
        <v-list-item title="Copy the settings" @click="copy" />
        <v-list-item title="Paste the settings" :disabled="!copied" @click="paste" />
        <v-list-item
          title="Settings for new slices"
          data-tip="New slices of this project begin with these"
          @click="makeStandard"
        />
        <v-list-item
          title="A sound of its own on a key"
          data-tip="The hit by itself, which no marker touches any more"
          @click="pick"
        />
        <v-list-item
          title="Bring to another part"
          data-tip="Onto its free keys, with all settings; here they stay as they are"
        >
          <v-menu activator="parent" submenu>
            <v-list>
              <v-list-item title="a new part" @click="picking.bring(zoneIds, null)" />
              <v-list-item
                v-for="other in otherParts"
                :key="other.id"
                :title="other.name"
                @click="picking.bring(zoneIds, other.id)"
              />
            </v-list>
          </v-menu>
        </v-list-item>
        <v-list-item
          title="Make its pitch flat …"
          data-tip="A voice or a bass that glides, on one note: an instrument over the keys"
          :disabled="!isSingle"
          @click="dialogs.flatZoneId = first.zone.id"
        />
        <v-list-item
          title="Spread over the keys"
          :disabled="!isSingle || first.at.index < 0"
          @click="laying.spread(first)"
        />
        <v-list-item title="On the next keys too" :disabled="!isSingle || first.keys === null">
          <v-menu activator="parent" submenu>
            <v-list>
              <v-list-item
                v-for="count in [1, 3, 7, 11, 15]"
                :key="count"
                :title="count === 1 ? 'the next one' : `the next ${count}`"
                @click="laying.onNextKeys(first, count)"
              />
            </v-list>
          </v-menu>
        </v-list-item>
        <v-list-item title="Take off the keys" @click="laying.takeOff()" />
      </v-list>
    </v-menu>
  </DetailHead>
  <TrimRow v-if="trimming.levelDb !== null" />
  <TogetherChoice v-if="!isSingle" />
  <SlicePlaceCard v-if="slices.length === 1" />
  <DetailCard id="slice-sound" title="Sound">
    <div class="three">
      <ParamField :owners="owners" param="gainDb" stacked />
      <ParamField :owners="owners" param="tuneCents" stacked />
      <ParamField :owners="owners" param="pan" stacked />
    </div>
  </DetailCard>
  <AnswerCard :owners="owners" />
  <DetailCard id="slice-level" title="Shape of the level">
    <EnvelopeSetting :owners="owners" :length-ms="lengthMs" :levels="levels" :colour="colour" :height="72" />
  </DetailCard>
  <FilterCard :owners="owners" />
  <MovedByCard />
  <StrengthCard :owners="owners" />
  <SliceFactsCard v-if="slices.length > 0" />
  <ApartCard v-if="slices.length > 0" />
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
