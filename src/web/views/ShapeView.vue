<script setup lang="ts">
/** How a part and its slices sound: the shape of the level, the filter, level, tune and pan of many at once. */
import { useStorage } from '@vueuse/core';
import { computed, defineAsyncComponent } from 'vue';
import { peakBetween } from '#core/dsp/peaks.ts';
import { ZONE_ROWS } from '#core/params/tables.ts';
import { SHAPE_ROWS } from '#core/params/zone-rows.ts';
import type { PlacedZone } from '#core/queries/zones.ts';
import { setValue, valueOf, type Owner } from '#core/project/commands/values.ts';
import ChainRow from '../components/chain/ChainRow.vue';
import DialRow from '../components/dials/DialRow.vue';
import DoublesSheet from '../components/doubles/DoublesSheet.vue';
import LanesSheet from '../components/lanes/LanesSheet.vue';
import ChannelCard from '../components/details/ChannelCard.vue';
import DetailHead from '../components/details/DetailHead.vue';
import TogetherChoice from '../components/details/TogetherChoice.vue';
import TimeCard from '../components/details/TimeCard.vue';
import EnvelopeSetting from '../components/fields/EnvelopeSetting.vue';
import FilterSetting from '../components/fields/FilterSetting.vue';
import ParamField from '../components/fields/ParamField.vue';
import FirstSteps from '../components/frame/FirstSteps.vue';
import PlaceFrame from '../components/frame/PlaceFrame.vue';
import InTurn from '../components/shared/InTurn.vue';
import TreatmentList from '../components/shape/TreatmentList.vue';
import ZoneTiles from '../components/shape/ZoneTiles.vue';
import { useChain } from '../stores/sound/chain.ts';
import { usePartSounds } from '../stores/sound/part-sounds.ts';
import { useProject } from '../stores/document/project.ts';
import { useSession } from '../stores/document/session.ts';

const project = useProject();
const session = useSession();
const sounds = usePartSounds();
const chain = useChain();
// Fetched when an effect is chosen.
const EffectDetails = defineAsyncComponent(() => import('../components/chain/EffectDetails.vue'));
const ByHandCard = defineAsyncComponent(() => import('../components/controllers/ByHandCard.vue'));
const STRETCHES = 120;
/** What is shown: what the part goes through as a whole, or its sounds one by one. */
const room = useStorage<'part' | 'sounds'>('yappa.shape', 'part');
/** What “the same for all” and “as it was” go over. */
const SHAPE = Object.keys(SHAPE_ROWS) as (keyof typeof SHAPE_ROWS)[];

const part = computed(() => session.part);
/** The chosen sounds; all of them where none is chosen. */
const chosen = computed(() => (session.selectedZones.length > 0 ? session.selectedZones : session.zones));
const ownersOf = (placed: readonly PlacedZone[]) => placed.map(({ zone }): Owner => ({ kind: 'zone', id: zone.id }));
const owners = computed(() => ownersOf(chosen.value));
const first = computed(() => chosen.value[0] ?? null);
const lengthMs = computed(() => {
  if (!first.value) return 100;
  const { at, cut } = first.value;
  return ((at.endFrame - at.startFrame) / sounds.soundOf(cut.id).sampleRate) * 1000;
});
const levels = computed(() => {
  const peaks = first.value && sounds.soundOf(first.value.cut.id).peaks;
  if (!peaks) return [];
  const { startFrame, endFrame } = first.value!.at;
  const each = (endFrame - startFrame) / STRETCHES;
  return Array.from({ length: STRETCHES }, (_, i) =>
    peakBetween(peaks, startFrame + i * each, startFrame + (i + 1) * each),
  );
});
const briefly = computed(() => {
  const { selectedZones: picked } = session;
  if (picked.length === 0) return session.zones.length === 1 ? 'its only sound' : `all ${session.zones.length} sounds`;
  if (picked.length > 1) return `${picked.length} sounds`;
  return picked[0]!.at.index < 0 ? 'whole loop' : `slice ${picked[0]!.at.index + 1}`;
});
const who = computed(() => {
  const [only, ...others] = session.selectedZones;
  return only && others.length === 0 && only.at.index >= 0 ? `${briefly.value}, ${only.at.label}` : briefly.value;
});

/** One slice's shape for all of the part, in one step. */
function sameForAll(): void {
  const from = owners.value[0];
  if (!from || !project.document) return;
  const { document } = project;
  project.step('the same shape for all', () => {
    for (const param of SHAPE) {
      const to = valueOf(document, from, param)!;
      project.run('', setValue, { owners: ownersOf(session.zones), param, change: { to } });
    }
  });
}

function asItWas(): void {
  project.step('no shape', () => {
    for (const param of SHAPE) {
      project.run('', setValue, { owners: owners.value, param, change: { to: ZONE_ROWS[param].default } });
    }
  });
}
</script>

<template>
  <PlaceFrame v-if="!part" title="Shape"><FirstSteps /></PlaceFrame>
  <PlaceFrame v-else title="Shape">
    <template #facts>
      <span data-testid="shape-facts">{{ part.name }} · {{ who }}</span>
    </template>
    <template #tools>
      <v-btn-toggle v-model="room" mandatory role="group" aria-label="Shows">
        <v-btn value="part" data-tip="What the part goes through: movement, chain, dials, doubles">the part</v-btn>
        <v-btn value="sounds" data-tip="The level, the filter and the tuning of each sound">its sounds</v-btn>
      </v-btn-toggle>
      <template v-if="room === 'sounds'">
        <v-btn
          v-if="session.selectedZones.length > 0"
          data-tip="Nothing chosen: what is set is set for all sounds of the part"
          @click="session.selectZones([])"
          >choose all</v-btn
        >
        <v-btn
          :disabled="session.selectedZones.length !== 1"
          data-tip="This sound's level and filter for every sound of the part"
          @click="sameForAll"
          >the same for all</v-btn
        >
        <v-btn data-tip="Level and filter of these sounds as they were at first" @click="asItWas">as it was</v-btn>
      </template>
    </template>
    <div v-if="owners.length > 0" class="shape">
      <section class="sheet treatments-row" aria-labelledby="treatments-title">
        <h2
          id="treatments-title"
          class="heading"
          data-tip="Ways to sound of the part, kept to be put on while it plays"
        >
          Treatments
        </h2>
        <TreatmentList :part="part" />
      </section>
      <template v-if="room === 'part'">
        <InTurn><LanesSheet class="sheet" /></InTurn>
        <InTurn><ChainRow class="sheet pad" /></InTurn>
        <InTurn><DialRow /></InTurn>
        <InTurn><DoublesSheet class="sheet pad" /></InTurn>
      </template>
      <template v-else>
        <div class="curves">
          <section class="sheet pad" aria-labelledby="level-title">
            <h2 id="level-title" class="heading">Shape of the level</h2>
            <InTurn
              ><EnvelopeSetting
                :owners="owners"
                :length-ms="lengthMs"
                :levels="levels"
                :colour="sounds.colourOf(first!)"
                :height="170"
            /></InTurn>
          </section>
          <section class="sheet pad" aria-labelledby="filter-title">
            <h2 id="filter-title" class="heading">Filter</h2>
            <InTurn><FilterSetting :owners="owners" :height="170" /></InTurn>
          </section>
        </div>
        <section class="sheet pad row" aria-label="Sound">
          <InTurn>
            <ParamField :owners="owners" param="gainDb" />
            <ParamField :owners="owners" param="tuneCents" />
            <ParamField :owners="owners" param="pan" />
            <ParamField :owners="owners" param="answer" />
            <ParamField :owners="owners" param="reverse" />
          </InTurn>
        </section>
        <section class="tiles-area" aria-labelledby="tiles-title">
          <h2 id="tiles-title" class="heading">
            Sounds <span class="quiet small">choose those to shape; none is all</span>
          </h2>
          <InTurn><ZoneTiles /></InTurn>
        </section>
      </template>
    </div>
    <template v-if="chain.chosen && room === 'part'" #details>
      <EffectDetails :key="chain.chosen.id" :effect="chain.chosen" />
    </template>
    <template v-else #details>
      <DetailHead :title="part.name" :note="briefly" />
      <TogetherChoice v-if="owners.length > 1" />
      <ChannelCard :part="part" />
      <TimeCard />
      <ByHandCard />
    </template>
  </PlaceFrame>
</template>

<style scoped>
.shape {
  flex: 1;
  min-height: 0;
  display: flex;
  flex-direction: column;
  gap: 8px;
  overflow-y: auto;
  scrollbar-width: thin;
}
.curves {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
  gap: 8px;
  flex: none;
}
.pad {
  padding: 8px 12px 12px;
}
.heading {
  color: var(--ink);
  font-size: 15px;
  font-weight: 660;
  padding-bottom: 6px;
}
.row {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(130px, 1fr));
  gap: 6px 16px;
  align-items: center;
  padding: 8px 12px;
  flex: none;
}
.treatments-row {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 14px;
  align-items: center;
  padding: 6px 12px;
  flex: none;
}
.treatments-row .heading {
  padding: 0;
}
.tiles-area {
  flex: none;
}
</style>
