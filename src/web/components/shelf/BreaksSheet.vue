<script setup lang="ts">
/** The breaks that were found in a recording: where they lie in it, and each with its seam, the most seamless first. */
import { computed } from 'vue';
import type { SourceSummary } from '../../api/client.ts';
import { usePreview } from '../../stores/sound/preview.ts';
import { placeWords, seamWords, useBreaks } from '../../stores/shelf/breaks.ts';
import { useListening } from '../../stores/shelf/listening.ts';
import HearButton from '../shared/HearButton.vue';
import SkylineMini from '../shared/SkylineMini.vue';
import ChoiceField from '../fields/ChoiceField.vue';
import SeamPicture from './SeamPicture.vue';
import { countWords } from './shelf-words.ts';

const { source } = defineProps<{ source: SourceSummary }>();
const breaks = useBreaks();
const listening = useListening();
const preview = usePreview();
const found = computed(() => breaks.search?.breaks ?? []);
const ways = computed(() => [
  { value: 'in-time' as const, words: 'in time', disabled: listening.songTempo === null },
  { value: 'as-it-is' as const, words: 'as it is' },
]);
const isInTime = computed(() => listening.wantsInTime && listening.songTempo !== null);
const percent = (frame: number) => `${(100 * frame) / source.frames}%`;
const box = ({ startFrame, endFrame }: { startFrame: number; endFrame: number }) => ({
  left: percent(startFrame),
  width: percent(endFrame - startFrame),
});
/** Whole minutes, or so many that their words have room. */
const minutes = computed(() => {
  const all = source.frames / source.sampleRate / 60;
  const step = Math.max(1, Math.ceil(all / 10));
  return Array.from({ length: Math.floor(all / step) + 1 }, (_, n) => n * step);
});
</script>

<template>
  <section class="sheet breaks" data-testid="breaks">
    <header>
      <h2>
        Breaks in <span class="one-line">{{ source.name }}</span>
      </h2>
      <span class="quiet small">{{
        breaks.wish.lookFor === 'drums' ? 'where only drums play' : 'where anything goes round'
      }}</span>
      <ChoiceField
        class="ways"
        label="How it is heard"
        :show-label="false"
        spread
        :choices="ways"
        :model-value="isInTime ? 'in-time' : 'as-it-is'"
        @put="listening.wantsInTime = $event === 'in-time'"
      />
    </header>
    <div class="overview">
      <SkylineMini class="whole" :levels="source.facts.skyline" colour="var(--rule)" />
      <template v-for="(one, place) in found" :key="one.startFrame">
        <div class="stretch" :style="box(one.stretch)">
          <span class="small mono">{{ one.stretch.bars }}</span>
        </div>
        <v-btn
          variant="text"
          class="loop"
          :class="{ chosen: place === breaks.chosenPlace }"
          :style="box(one)"
          :aria-label="`Break ${place + 1}, at ${placeWords(one.startFrame, source.sampleRate)}`"
          @click="breaks.chosenPlace = place"
        />
      </template>
    </div>
    <div class="scale mono small quiet" aria-hidden="true">
      <span v-for="minute in minutes" :key="minute" :style="{ left: percent(minute * 60 * source.sampleRate) }"
        >{{ minute }}:00</span
      >
    </div>
    <p v-if="found.length === 0" class="quiet none">No break was found in it.</p>
    <ol v-else class="cards">
      <li
        v-for="(one, place) in found"
        :key="one.startFrame"
        :class="{ chosen: place === breaks.chosenPlace }"
        :aria-current="place === breaks.chosenPlace"
        @click="breaks.chosenPlace = place"
      >
        <div class="head">
          <span class="mono number">{{ place + 1 }}</span>
          <span class="mono small">{{ placeWords(one.startFrame, source.sampleRate) }}</span>
          <HearButton
            :name="`break ${place + 1}`"
            :playing="preview.previewId === source.id && breaks.heardPlace === place"
            @click.stop="breaks.hear(source, place)"
          />
        </div>
        <p>
          <b>{{ countWords(one.bars, 'bar') }}</b> <span class="mono small">{{ one.bpm.toFixed(1) }} bpm</span>
        </p>
        <div class="seam"><SeamPicture :start="one.start" :after="one.after" /></div>
        <p class="small">
          seamless <span class="mono share">{{ Math.round(100 * one.seamless) }} %</span>
        </p>
        <p class="small quiet">{{ seamWords(one) }}</p>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.breaks {
  padding: 10px 12px;
  display: flex;
  flex-direction: column;
  min-height: 0;
}
header {
  display: flex;
  align-items: center;
  gap: 10px;
}
h2 {
  font-size: 14px;
  display: flex;
  gap: 4px;
  min-width: 0;
}
.ways {
  margin-left: auto;
}
.overview {
  position: relative;
  height: 66px;
  margin-top: 26px;
  background: var(--paper);
}
.whole {
  position: absolute;
  inset: 0;
}
.stretch {
  position: absolute;
  top: -8px;
  height: 8px;
  border: 2px solid var(--sea);
  border-bottom: none;
}
.stretch span {
  position: absolute;
  bottom: 8px;
  left: 50%;
  transform: translateX(-50%);
  color: var(--sea);
}
.loop.loop {
  position: absolute;
  top: 0;
  height: 100%;
  min-width: 4px;
  padding: 0;
  border-radius: 0;
  background: color-mix(in srgb, var(--sea) 30%, transparent);
}
.loop.chosen {
  background: color-mix(in srgb, var(--sea) 55%, transparent);
  outline: 2px solid var(--sea);
}
.scale {
  position: relative;
  height: 18px;
}
.scale span {
  position: absolute;
}
.cards {
  list-style: none;
  padding: 0;
  margin: 6px 0 0;
  display: flex;
  gap: 8px;
  overflow-x: auto;
}
li {
  flex: 0 0 148px;
  border: 1px solid var(--rule);
  border-radius: 4px;
  padding: 6px 8px;
  cursor: pointer;
}
li.chosen {
  border-color: var(--sea);
  box-shadow: inset 0 0 0 1px var(--sea);
}
.head {
  display: flex;
  align-items: center;
  justify-content: space-between;
}
.number {
  background: var(--paper);
  padding: 1px 7px;
}
li.chosen .number {
  background: var(--sea);
  color: var(--sheet);
}
.seam {
  height: 44px;
  margin: 3px 0;
}
.share {
  float: right;
}
.none {
  padding: 8px 0;
}
p {
  margin: 0;
}
</style>
