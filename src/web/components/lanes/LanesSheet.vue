<script setup lang="ts">
/** The loop as the part plays it, and the lanes over it: movement drawn, or written by moving a setting while it plays. */
import { computed, ref, useTemplateRef } from 'vue';
import { countedBeatTicks, TICKS_PER_BEAT } from '#core/units/time.ts';
import { songValues } from '#core/queries/values.ts';
import { usePictures } from '../../canvas/pictures.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { useLaneWriting, type Writing } from '../../stores/sound/lane-writing.ts';
import { useLanes } from '../../stores/sound/lanes.ts';
import { useTransport } from '../../stores/sound/transport.ts';
import { usePlayheadTicks } from '../../stores/sound/playhead-ticks.ts';
import { usePatternNames } from '../pattern/use-pattern-names.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import SettingPicker from '../fields/SettingPicker.vue';
import PartRibbon from '../shared/PartRibbon.vue';
import LaneBand from './LaneBand.vue';
import PencilChoice from './PencilChoice.vue';
import TreatmentBand from './TreatmentBand.vue';

const project = useProject();
const session = useSession();
const lanes = useLanes();
const writing = useLaneWriting();
const transport = useTransport();
const playheadTicks = usePlayheadTicks();
const head = useTemplateRef<HTMLElement>('head');

const WRITING: readonly { value: Writing; words: string }[] = [
  { value: 'off', words: 'write nothing' },
  { value: 'touch', words: 'write while touched' },
  { value: 'on', words: 'write until stopped' },
];

/** Bar lines and beats, as shares of the pattern. */
const ruler = computed(() => {
  const { lengthTicks } = session;
  const { beatsPerBar } = songValues(project.document!);
  const beat = countedBeatTicks(beatsPerBar);
  const count = Math.min(256, Math.ceil(lengthTicks / beat - 1e-6));
  const aBar = Math.round((beatsPerBar * 960) / beat);
  const every = count > 32 ? aBar : count > 8 ? Math.max(1, aBar / 2) : 1;
  return Array.from({ length: count }, (_, i) => ({
    share: (i * beat) / lengthTicks,
    words: i % every === 0 ? `${Math.floor(i / aBar) + 1}.${(i % aBar) + 1}` : '',
  }));
});

const isShown = ref(false);
usePictures(() => {
  const ticks = transport.playing ? playheadTicks() : null;
  isShown.value = ticks !== null;
  if (ticks !== null && head.value) head.value.style.left = `${(ticks / session.lengthTicks) * 100}%`;
});
const names = usePatternNames();
const patternName = computed(() => names.value.find(({ id }) => id === lanes.patternId)?.name ?? '');
</script>

<template>
  <section class="lanes" aria-labelledby="lanes-title">
    <header class="bar">
      <h2 id="lanes-title" class="heading">Over the loop</h2>
      <span class="quiet small one-line">{{ patternName }}</span>
      <span class="gap" />
      <ChoiceField
        label="writing"
        :show-label="false"
        class="writing"
        :class="{ armed: writing.mode !== 'off' }"
        hint="A setting that is moved while the song plays is written into a lane"
        :model-value="writing.mode"
        :choices="WRITING"
        @put="writing.mode = $event"
      />
      <PencilChoice />
      <SettingPicker :settings="lanes.free" words="a new lane" @pick="lanes.add($event)" />
    </header>
    <div class="loop">
      <div class="about">
        <b>the loop</b>
        <span class="quiet small">{{ session.events.length }} strips</span>
      </div>
      <div class="ribbon">
        <div class="ruler" aria-hidden="true">
          <span v-for="{ share, words } in ruler" :key="share" :style="{ left: `${share * 100}%` }">{{ words }}</span>
        </div>
        <PartRibbon v-if="session.part" :part="session.part" class="picture" />
      </div>
    </div>
    <div class="bands">
      <TreatmentBand
        v-if="session.part?.treatments"
        :part="session.part"
        :pattern-id="lanes.patternId"
        :over-ticks="session.lengthTicks"
        :grid-ticks="session.gridStepTicks ?? TICKS_PER_BEAT / 4"
      />
      <LaneBand
        v-for="lane in lanes.lanes"
        :key="lane.id"
        :lane="lane"
        :over-ticks="session.lengthTicks"
        :grid-ticks="session.gridStepTicks ?? TICKS_PER_BEAT / 4"
        whole="as the pattern"
        :free="lanes.free"
      />
      <p v-if="lanes.lanes.length === 0" class="none quiet small">
        No lane yet: add one, or press the right button on a setting; then draw how it moves over the loop.
      </p>
    </div>
    <div v-show="isShown" class="head-area" aria-hidden="true"><div ref="head" class="head" /></div>
  </section>
</template>

<style scoped src="./sheet.css"></style>
<style scoped>
.lanes {
  --lane-words: 158px;
  position: relative;
  flex: none;
}
.bar {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 8px;
  padding: 6px 12px;
}
.writing {
  width: 176px;
}
.writing.armed :deep(.v-field) {
  outline: 2px solid var(--signal);
}
.loop {
  display: grid;
  grid-template-columns: var(--lane-words) minmax(0, 1fr);
  border-top: 1px solid var(--rule);
}
.about {
  display: grid;
  align-content: center;
  padding: 4px 10px;
  font-size: 13px;
}
.ribbon {
  display: grid;
  grid-template-rows: 18px 34px;
  overflow: hidden;
}
.ruler {
  position: relative;
  font: 13px var(--mono);
  color: var(--ink-quiet);
}
.none {
  border-top: 1px solid var(--rule);
  padding: 8px 10px;
}
</style>
