<script setup lang="ts">
/** How the loop of a cut is read: its bars, its tempo, where it begins and ends. */
import { computed, defineAsyncComponent, shallowRef, watch } from 'vue';
import { withNearHits } from '#core/project/new-part.ts';
import type { Loop } from '#core/document/schema.ts';
import { TapTempo } from '../../devices/tap-tempo.ts';
import { useNotices } from '../../stores/frame/notices.ts';
import { setLoop } from '#core/project/commands/parts.ts';
import { loopAsSaid, type SaidOfLoop } from '#core/queries/loops.ts';
import { formatSeconds, loopLengthFrames, loopTempoBpm, metreWords, nearestBars } from '#core/units/time.ts';
import { useProject } from '../../stores/document/project.ts';
import { usePreview } from '../../stores/sound/preview.ts';
import { useSession } from '../../stores/document/session.ts';
import DocumentField from '../fields/DocumentField.vue';
import MetreField from '../fields/MetreField.vue';
import IconButton from '../shared/IconButton.vue';
import { untilQuiet } from '../../when-quiet.ts';
import DetailCard from './DetailCard.vue';

// Wanted a little later than the loop itself.
const BarsRow = defineAsyncComponent(() => untilQuiet().then(() => import('./BarsRow.vue')));
const LoopNotes = defineAsyncComponent(() => untilQuiet().then(() => import('./LoopNotes.vue')));
const LoopMenu = defineAsyncComponent(() => untilQuiet().then(() => import('./LoopMenu.vue')));
/** Readings that stand side by side; the others are behind a menu. */
const MOST_SHOWN = 3;
const project = useProject();
const session = useSession();
const notices = useNotices();
const preview = usePreview();

const cut = computed(() => session.cut!);
const source = computed(() => session.source!);
const loop = computed(() => cut.value.loop!);
const loopFrames = computed(() => loop.value.endFrame - loop.value.startFrame);
const tempo = computed(() =>
  loopTempoBpm(loop.value.bars, loop.value.beatsPerBar, loopFrames.value, source.value.sampleRate),
);

/** Other readings: half and double of the loop as it is, and those the analysis named. */
const readings = computed(() => {
  const { bars } = loop.value;
  const more = [{ ...loop.value, bars: bars * 2 }, ...(bars % 2 === 0 ? [{ ...loop.value, bars: bars / 2 }] : [])];
  const seen = new Set<string>();
  return [loop.value, ...more, ...cut.value.tempoReadings.map(fromItsHit)]
    .map(loopOf)
    .filter((reading) => {
      const name = Object.values(reading).join('/');
      return !seen.has(name) && seen.add(name);
    })
    .slice(0, 6)
    .map((reading) => ({
      reading,
      bpm: loopTempoBpm(
        reading.bars,
        reading.beatsPerBar,
        reading.endFrame - reading.startFrame,
        source.value.sampleRate,
      ),
    }));
});

/** What of a reading a loop is. */
function loopOf({ startFrame, endFrame, bars, beatsPerBar }: Loop): Loop {
  return { startFrame, endFrame, bars, beatsPerBar };
}

function barWords(reading: Loop): string {
  const { bars, beatsPerBar, startFrame } = reading;
  const metre = beatsPerBar === loop.value.beatsPerBar ? '' : ` ${metreWords(beatsPerBar).split(' ')[0]}`;
  // Where only its place is another one, the place is said.
  if (startFrame !== loop.value.startFrame && bars === loop.value.bars && !metre)
    return `from ${(startFrame / source.value.sampleRate).toFixed(2)} s`;
  return `${bars} ${bars === 1 ? 'bar' : 'bars'}${metre}`;
}

/** A reading begins with the hit that it means, though that lies a little before. */
function fromItsHit(reading: Loop): Loop {
  const starts = session.placed.map(({ startFrame }) => startFrame);
  return withNearHits(reading, starts, source.value.frames, source.value.sampleRate);
}

function putLoop(label: string, change: Partial<Loop>): void {
  said.value = {};
  project.run(label, setLoop, { cutId: cut.value.id, loop: change });
}

/** What was typed of it, until it is read otherwise: with bars and a tempo both said the end follows. */
const said = shallowRef<SaidOfLoop>({});
const saidWords = computed(() => {
  const { bars, tempoBpm } = said.value;
  if (bars === undefined && tempoBpm === undefined) return '';
  if (bars === undefined) return `${tempoBpm} bpm, as said: type its bars, and its end follows.`;
  const ofBars = `${bars} ${bars === 1 ? 'bar' : 'bars'}`;
  if (tempoBpm === undefined) return `${ofBars}, as said: type its tempo, and its end follows.`;
  return `${ofBars} at ${tempoBpm} bpm, as said.`;
});

function say(label: string, more: SaidOfLoop): void {
  const wanted = { ...said.value, ...more };
  const result = loopAsSaid(loop.value, source.value, wanted);
  if ('missingFrames' in result) {
    const ofBars = result.bars === 1 ? 'one bar is' : `${result.bars} bars are`;
    notices.info(
      `At ${wanted.tempoBpm} bpm ${ofBars} ${result.missingFrames} frames longer than the sound: choose a faster tempo or a shorter metre.`,
    );
    return;
  }
  project.run(label, setLoop, { cutId: cut.value.id, loop: result });
  said.value = wanted;
}

function trimTo(tempoBpm: number): void {
  say(`trim to ${tempoBpm} bpm`, { tempoBpm });
}
watch(
  () => cut.value.id,
  () => (said.value = {}),
);

function timesBars(factor: 2 | 0.5): void {
  const { bars, beatsPerBar } = loop.value;
  const whole = bars * factor;
  // Half of an odd number of bars: bars of half the beats.
  const change = Number.isInteger(whole) ? { bars: whole } : { beatsPerBar: beatsPerBar / 2 };
  putLoop(factor === 2 ? 'half time' : 'double time', change);
}
const canDouble = computed(() => loop.value.bars % 2 === 0 || loop.value.beatsPerBar % 2 === 0);

const clicking = computed(() => preview.previewId === `click:${cut.value.id}`);
function toggleClick(): void {
  if (clicking.value) preview.stopPreview();
  else void preview.playWithClick(cut.value.id);
}
// While it is heard, every other reading of the loop is heard at once.
watch(loop, () => {
  if (clicking.value) void preview.playWithClick(cut.value.id);
});

let tapper = new TapTempo();
function tapLoop(): void {
  const tempoBpm = tapper.tap(performance.now());
  if (tempoBpm === null) return;
  // A tap is only about right: it chooses the number of bars, and the length tells the exact tempo.
  const bars = nearestBars(loopFrames.value, loop.value.beatsPerBar, tempoBpm, source.value.sampleRate);
  if (bars !== loop.value.bars) putLoop('tap the loop', { bars });
}
watch(
  () => cut.value.id,
  () => (tapper = new TapTempo()),
);

const offBy = computed(() => {
  const rounded = Math.round(tempo.value);
  const wanted = loopLengthFrames(loop.value.bars, loop.value.beatsPerBar, rounded, source.value.sampleRate);
  return { rounded, frames: Math.round(loopFrames.value - wanted) };
});
</script>

<template>
  <DetailCard id="loop" title="Loop" :note="`1 of ${readings.length} readings`">
    <div class="readings" role="group" aria-label="Readings of the loop">
      <v-btn
        v-for="({ reading, bpm }, index) in readings.slice(0, MOST_SHOWN)"
        :key="Object.values(reading).join('/')"
        class="reading"
        :aria-pressed="index === 0"
        :data-tip="`Read the loop this way, from ${formatSeconds(reading.startFrame / source.sampleRate)}`"
        @click="putLoop('read the loop', reading)"
      >
        <span>{{ barWords(reading) }}</span><span class="mono">{{ bpm.toFixed(2) }}</span>
      </v-btn>
    </div>
    <div class="three">
      <DocumentField
        label="bars"
        stacked
        :model-value="loop.bars"
        :min="1"
        :max="512"
        hint="With a tempo said before, its end follows"
        @put="say('bars', { bars: $event })"
      />
      <div class="metre">
        <span class="quiet small" aria-hidden="true">metre</span>
        <MetreField
          class="wide"
          :model-value="loop.beatsPerBar"
          @put="putLoop('metre of the loop', { beatsPerBar: $event })"
        />
      </div>
      <DocumentField
        label="its tempo"
        stacked
        hint="Type one: the loop is trimmed to as many bars as were said, or as come nearest to its length"
        data-testid="loop-tempo"
        :model-value="tempo"
        :min="20"
        :max="400"
        :digits="2"
        unit="bpm"
        undo="tempo of the loop"
        @put="trimTo"
      />
    </div>
    <div class="pair">
      <DocumentField
        label="start"
        stacked
        hint="First frame of the loop in its source: after a pickup or silence"
        :model-value="loop.startFrame"
        :min="0"
        :max="loop.endFrame - 1"
        unit="frames"
        undo="start of the loop"
        @put="putLoop('start of the loop', { startFrame: $event })"
      />
      <DocumentField
        label="end"
        stacked
        hint="Frame after the loop's last"
        :model-value="loop.endFrame"
        :min="loop.startFrame + 1"
        :max="source.frames"
        unit="frames"
        undo="end of the loop"
        @put="putLoop('end of the loop', { endFrame: $event })"
      />
    </div>
    <p v-if="saidWords" class="outside small" data-testid="said">
      {{ saidWords }} <v-btn data-tip="Read it by its length again" @click="said = {}">forget it</v-btn>
    </p>
    <p class="quiet small">
      {{ loopFrames.toLocaleString('en') }} frames,
      {{
        offBy.frames === 0
          ? `exactly ${offBy.rounded} bpm`
          : `${Math.abs(offBy.frames)} too ${offBy.frames > 0 ? 'many' : 'few'} for ${offBy.rounded} bpm`
      }}
    </p>
    <BarsRow v-if="loop.bars > 1" />
    <LoopNotes :from-its-hit="fromItsHit" :tempo="tempo" @put="putLoop" @trim="trimTo" />
    <div class="buttons">
      <IconButton
        icon="click"
        words="hear with click"
        hint="The loop in its own tempo, with the click over it"
        :pressed="clicking"
        @click="toggleClick"
      />
      <IconButton icon="tap" words="tap the loop" hint="Tap along: the number of bars follows" @click="tapLoop" />
      <v-btn
        class="half"
        aria-label="half time"
        data-tip="Half time: the loop takes twice as many bars"
        @click="timesBars(2)"
        >½</v-btn
      >
      <v-btn
        class="half"
        aria-label="double time"
        data-tip="Double time: the loop takes half as many bars"
        :disabled="!canDouble"
        @click="timesBars(0.5)"
        >2×</v-btn
      >
      <LoopMenu
        :more="readings.slice(MOST_SHOWN)"
        :bar-words="barWords"
        :tempo="tempo"
        :frames-over="offBy.frames"
        @put="putLoop"
        @trim="trimTo"
      />
    </div>
  </DetailCard>
</template>

<style scoped>
.three {
  display: grid;
  grid-template-columns: 0.7fr 1fr 1.25fr;
  gap: 6px;
}
.three :deep(.value) {
  min-width: 0;
}
.outside {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
}
.half.v-btn {
  width: var(--control);
  padding: 0;
}
.metre {
  display: grid;
  align-content: end;
}
.readings {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 4px;
}
.reading.v-btn.v-btn--density-default {
  height: 42px;
  padding: 2px;
}
.reading :deep(.v-btn__content) {
  display: grid;
  font-weight: 500;
  line-height: 1.25;
}
</style>
