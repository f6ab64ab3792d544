<script setup lang="ts">
/** The ring of the hit before: how it goes on into the slice, and how much of it is taken out. */
import { computed } from 'vue';
import { APART_ROWS, type ApartValues } from '#core/params/apart-rows.ts';
import { levelsOf } from '#core/unmix/results.ts';
import { useApart } from '../../stores/source/apart.ts';
import { useSession } from '../../stores/document/session.ts';
import RowField from '../fields/RowField.vue';
import HearButton from '../shared/HearButton.vue';
import { liftLevel } from '../../canvas/draw.ts';
import { stretchPeaks } from './layer-looks.ts';

const apart = useApart();
const session = useSession();
const EACH = 90;
const BASE = 100;

function channelsOf(from: number, to: number): Float32Array[] {
  return (session.loaded?.channels ?? []).map((channel) => channel.subarray(from, to));
}
const beforePeaks = computed(() => stretchPeaks(channelsOf(apart.before!.startFrame, apart.at!.startFrame), EACH));
const ownPeaks = computed(() => stretchPeaks(channelsOf(apart.at!.startFrame, apart.at!.endFrame), EACH));
const ringPeaks = computed(() =>
  apart.hasRing && apart.result ? stretchPeaks(apart.result.layers.at(-1)!, EACH) : [],
);
const loudest = computed(() => Math.max(0.02, ...beforePeaks.value, ...ownPeaks.value));
function area(peaks: readonly number[], offset: number): string {
  return peaks
    .map(
      (peak, i) =>
        `M${offset + i} ${BASE}V${((1 - liftLevel(peak / loudest.value)) * BASE).toFixed(1)}H${offset + i + 1.02}V${BASE}Z`,
    )
    .join('');
}
const words = computed(() => {
  if (!apart.hasRing) return `${apart.before!.label} goes on sounding into it`;
  if (!apart.result) return '';
  const { rmsDb, peakDb } = levelsOf(apart.result.layers.at(-1)!);
  if (rmsDb < -120) return `nothing of ${apart.before!.label} is heard in it`;
  const { ringFrom } = apart.result;
  const from =
    ringFrom === null ? 'carried on from how it falls' : `known from slice ${ringFrom + 1}, where it rings alone`;
  return `at most ${peakDb.toFixed(1)} dB, ${from}`;
});
const rows = ['ringPercent', 'ringFromMs', 'ringUntilMs', 'leavesLow'] as const;

/** Not longer than there is anything. */
const lengthMs = computed(
  () => (1000 * (apart.at!.endFrame - apart.at!.startFrame)) / (session.source?.sampleRate ?? 44_100),
);
const shown = (row: (typeof rows)[number]) =>
  row === 'ringUntilMs' ? Math.min(apart.values[row], lengthMs.value) : apart.values[row];

function put(row: keyof ApartValues, value: number | string | boolean): void {
  apart.values = { ...apart.values, [row]: value };
}
</script>

<template>
  <section v-if="apart.before && apart.at" class="ring" data-testid="ring">
    <header>
      <h3>Ring of the hit before</h3>
      <span class="quiet small one-line">{{ words }}</span>
    </header>
    <svg :viewBox="`0 0 ${2 * EACH} ${BASE}`" preserveAspectRatio="none" aria-hidden="true">
      <path class="before" :d="area(beforePeaks, 0)" />
      <path class="own" :d="area(ownPeaks, EACH)" />
      <path v-if="ringPeaks.length > 0" class="ringing" :d="area(ringPeaks, EACH)" />
      <line class="start" :x1="EACH" :x2="EACH" y1="0" :y2="BASE" />
    </svg>
    <div class="fields">
      <RowField
        v-for="row in rows"
        :key="row"
        :row="APART_ROWS[row]"
        :model-value="shown(row)"
        :disabled="row !== 'ringPercent' && !apart.hasRing"
        :bar="row === 'ringPercent'"
        @put="put(row, $event)"
      />
      <span class="small quiet">hear</span>
      <HearButton
        name="the ring"
        :playing="apart.heardPiece === 'ring'"
        :disabled="!apart.hasRing"
        @click="apart.hear('ring')"
      />
    </div>
  </section>
</template>

<style scoped>
.ring {
  border-top: 1px solid var(--rule);
  padding-top: 6px;
  display: flex;
  flex-direction: column;
  gap: 4px;
}
header,
.fields {
  display: flex;
  align-items: center;
  gap: 10px;
  min-width: 0;
}
.fields {
  flex-wrap: wrap;
  gap: 4px 12px;
}
.fields :deep(.number) {
  display: flex;
  align-items: center;
  gap: 6px;
}
.fields :deep(.number .value) {
  width: 92px;
}
h3 {
  font-size: 14px;
  white-space: nowrap;
}
svg {
  flex: 1;
  min-height: 24px;
  max-height: 84px;
  width: 100%;
  background: var(--paper);
}
.before {
  fill: var(--moss);
}
.own {
  fill: var(--ink-quiet);
  opacity: 0.4;
}
.ringing {
  fill: var(--moss);
}
.start {
  stroke: var(--sea);
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}
</style>
