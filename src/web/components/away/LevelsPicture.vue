<script setup lang="ts">
/** Peaks and levels of the mix over its time, in dB, with full scale as a line and what is over it in red. */
import { scaleLinear } from 'd3-scale';
import { computed } from 'vue';
import type { MixLevels } from '#core/analysis/loudness.ts';
import { formatSeconds } from '#core/units/time.ts';

const { levels } = defineProps<{ levels: MixLevels }>();
const WIDTH = 220;
const HEIGHT = 130;
const LEFT = 26;
const FOOT = 18;
const TOP_DB = 6;
const BOTTOM_DB = -42;
const TICKS_DB = [0, -12, -24, -36];

const x = computed(() => scaleLinear([0, levels.peaks.length], [LEFT, WIDTH - 2]));
const y = scaleLinear([BOTTOM_DB, TOP_DB], [HEIGHT - FOOT, 4]).clamp(true);
const toDb = (amplitude: number) => (amplitude > 0 ? 20 * Math.log10(amplitude) : BOTTOM_DB);
const line = (values: readonly number[]) =>
  values.map((value, i) => `${x.value(i + 0.5).toFixed(1)},${y(toDb(value)).toFixed(1)}`).join(' ');
const peaks = computed(() => line(levels.peaks));
const means = computed(() => `${LEFT},${y(BOTTOM_DB)} ${line(levels.means)} ${WIDTH - 2},${y(BOTTOM_DB)}`);
const minutes = (seconds: number) => `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;
const isOver = computed(() => levels.peakDb > 0);
const overX = computed(() => x.value((levels.peakSeconds / Math.max(1e-9, levels.seconds)) * levels.peaks.length));
</script>

<template>
  <svg
    :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
    role="img"
    aria-label="Peaks and levels of the mix over its time"
    data-testid="levels-picture"
  >
    <rect x="0" y="0" :width="WIDTH" :height="HEIGHT" class="ground" />
    <g v-for="db in TICKS_DB" :key="db">
      <line :x1="LEFT" :x2="WIDTH" :y1="y(db)" :y2="y(db)" :class="db === 0 ? 'full' : 'tick'" />
      <text :x="LEFT - 4" :y="y(db) + 4" text-anchor="end">{{ db }}</text>
    </g>
    <polygon :points="means" class="means" />
    <polyline :points="peaks" class="peaks" />
    <template v-if="isOver">
      <line :x1="overX" :x2="overX" :y1="0" :y2="HEIGHT - FOOT" class="over" />
      <text
        :x="overX + (overX > WIDTH / 2 ? -5 : 5)"
        :y="HEIGHT - FOOT - 6"
        :text-anchor="overX > WIDTH / 2 ? 'end' : 'start'"
        class="over-words"
      >
        +{{ levels.peakDb.toFixed(1) }} at {{ minutes(levels.peakSeconds) }}
      </text>
    </template>
    <text :x="LEFT" :y="HEIGHT - 4">0</text>
    <text :x="WIDTH - 2" :y="HEIGHT - 4" text-anchor="end">{{ formatSeconds(levels.seconds) }}</text>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
}
.ground {
  fill: var(--paper);
}
text {
  font: 12px var(--mono);
  fill: var(--ink-quiet);
}
.tick {
  stroke: var(--rule);
}
.full {
  stroke: var(--ink);
}
.means {
  fill: var(--sea);
  opacity: 0.35;
}
.peaks {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.2;
}
.over {
  stroke: var(--signal);
  stroke-width: 1.5;
}
.over-words {
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 4px;
  fill: var(--signal-ink);
  font-weight: 600;
}
</style>
