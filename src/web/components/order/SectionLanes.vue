<script setup lang="ts">
/** Lanes over the chosen section with all its repeats: movement of any setting of the song, as long as it is played. */
import { computed, ref, useTemplateRef } from 'vue';
import { lanesOver } from '#core/queries/lanes.ts';
import { movableInOrder } from '#core/queries/order-targets.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import { engine } from '../../audio/services.ts';
import { usePictures } from '../../canvas/pictures.ts';
import { useProject } from '../../stores/document/project.ts';
import type { ShownSection } from '../../stores/order/order.ts';
import { useLanes } from '../../stores/sound/lanes.ts';
import { useTransport } from '../../stores/sound/transport.ts';
import SettingPicker from '../fields/SettingPicker.vue';
import LaneBand from '../lanes/LaneBand.vue';
import PencilChoice from '../lanes/PencilChoice.vue';

const { shown } = defineProps<{ shown: ShownSection }>();
const project = useProject();
const lanes = useLanes();
const transport = useTransport();
const head = useTemplateRef<HTMLElement>('head');
const isShown = ref(false);
const overId = computed(() => shown.section.id);
const overTicks = computed(() => shown.roundTicks * shown.repeats);
const laid = computed(() => lanesOver(project.document!, overId.value));
const free = computed(() => lanes.withoutTaken(laid.value, movableInOrder(project.document!)));
const bars = computed(() => shown.lengthBars * shown.repeats);
/** Bar lines, as shares of the section: fewer where it is long. */
const ruler = computed(() => {
  const step = [1, 2, 4, 8, 16, 32, 64].find((each) => bars.value / each <= 24) ?? 128;
  return Array.from({ length: Math.ceil(bars.value / step - 1e-9) }, (_, n) => ({
    share: (n * step) / bars.value,
    bar: shown.barsBefore + n * step + 1,
  }));
});

usePictures(() => {
  const ticks = engine.status.playing && transport.followsOrder ? engine.positionTicksNow() - shown.startTicks : -1;
  isShown.value = ticks >= 0 && ticks < overTicks.value;
  if (isShown.value && head.value) head.value.style.left = `${(100 * ticks) / overTicks.value}%`;
});
</script>

<template>
  <section class="section-lanes sheet" aria-labelledby="section-lanes-title" data-testid="section-lanes">
    <header class="bar">
      <h2 id="section-lanes-title" class="heading one-line">Over {{ shown.section.name }}</h2>
      <span v-if="laid.length === 0" class="quiet small one-line"
        >no lane: a setting that moves over all its rounds</span
      >
      <span class="gap" />
      <PencilChoice v-if="laid.length > 0" />
      <SettingPicker :settings="free" words="a new lane" @pick="lanes.addFor($event, $event.words, overId)" />
    </header>
    <template v-if="laid.length > 0">
      <div class="ruler" aria-hidden="true">
        <span v-for="{ share, bar } in ruler" :key="bar" :style="{ left: `${share * 100}%` }">{{ bar }}</span>
      </div>
      <div class="bands">
        <LaneBand
          v-for="lane in laid"
          :key="lane.id"
          :lane="lane"
          :over-ticks="overTicks"
          :grid-ticks="bars > 16 ? shown.barTicks : TICKS_PER_BEAT"
          whole="as the section"
          tells-whose
          :free="free"
        />
      </div>
      <div v-show="isShown" class="head-area" aria-hidden="true"><div ref="head" class="head" /></div>
    </template>
  </section>
</template>

<style scoped src="../lanes/sheet.css"></style>
<style scoped>
.section-lanes {
  --lane-words: 206px;
  position: relative;
  flex: none;
  max-height: 42%;
  overflow-y: auto;
  scrollbar-width: thin;
}
.bar {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 6px 12px;
}
.ruler {
  position: relative;
  height: 18px;
  margin-left: var(--lane-words);
  font: 12px var(--mono);
  color: var(--ink-quiet);
}
</style>
