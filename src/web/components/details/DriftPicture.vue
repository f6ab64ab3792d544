<script setup lang="ts">
/** For each slice of the loop, how early or late it is against the nearest line of its grid, in milliseconds. */
import { computed } from 'vue';
import { feelStepTicks } from '#core/strips/feel-step.ts';
import { driftMs } from '#core/strips/timing.ts';
import { homeEvents } from '#core/strips/home.ts';
import { cutTempoBpm } from '#core/queries/loops.ts';
import { loopLengthTicks } from '#core/units/time.ts';
import { partValues } from '#core/queries/values.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';

const WIDTH = 220;
const HEIGHT = 56;
/** A loop that sits on the grid is drawn flat: less than this is nothing. */
const MIN_RANGE_MS = 10;
/** More slices than this are closer than they can be pointed at, and are drawn in one line. */
const MAX_APART = 128;

const project = useProject();
const session = useSession();

const drifts = computed(() => {
  const { loop } = session.cut!;
  if (!loop) return [];
  const tempo = cutTempoBpm(project.document!, session.cut!)!;
  const lengthTicks = loopLengthTicks(loop);
  const { feelPercent, feelStep } = partValues(session.part!);
  const kept = feelPercent / 100;
  const placeById = new Map(session.placed.map((at) => [at.slice.id, at.index]));
  return homeEvents(session.placed, loop, lengthTicks).map(({ sliceId, positionTicks }, index) => ({
    id: sliceId,
    index,
    share: positionTicks / lengthTicks,
    ms: driftMs(positionTicks, feelStepTicks(feelStep), tempo) * kept,
    colour: session.colours[placeById.get(sliceId)!] ?? 'var(--sea)',
  }));
});
const mostMs = computed(() => drifts.value.reduce((most, { ms }) => Math.max(most, Math.abs(ms)), 0));
const range = computed(() => Math.max(MIN_RANGE_MS, mostMs.value));
const x = (share: number) => 4 + share * (WIDTH - 10);
const y = (ms: number) => HEIGHT / 2 - (ms / range.value) * (HEIGHT / 2 - 5);
const together = computed(() =>
  drifts.value.map(({ share, ms }) => `M${x(share).toFixed(1)},${y(0)}V${y(ms).toFixed(1)}`).join(''),
);
const words = computed(() => {
  const late = drifts.value.filter(({ ms }) => ms > 1).length;
  const early = drifts.value.filter(({ ms }) => ms < -1).length;
  return `${early} early, ${late} late, most ${mostMs.value.toFixed(mostMs.value < 10 ? 1 : 0)} ms`;
});
</script>

<template>
  <figure class="drift" data-testid="drift">
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="`Against the grid: ${words}`">
      <line :x1="0" :x2="WIDTH" :y1="HEIGHT / 2" :y2="HEIGHT / 2" class="grid" />
      <path v-if="drifts.length > MAX_APART" :d="together" class="together" />
      <template v-else>
        <g v-for="drift in drifts" :key="drift.id">
          <title>slice {{ drift.index + 1 }}: {{ drift.ms.toFixed(1) }} ms</title>
          <line :x1="x(drift.share)" :x2="x(drift.share)" :y1="y(0)" :y2="y(drift.ms)" :stroke="drift.colour" />
          <rect :x="x(drift.share) - 2" :y="y(drift.ms) - 2" width="4" height="4" :fill="drift.colour" />
        </g>
      </template>
    </svg>
    <figcaption class="quiet">late above, early below · {{ words }}</figcaption>
  </figure>
</template>

<style scoped>
.drift {
  margin: 6px 0;
}
.drift svg {
  display: block;
  width: 100%;
}
.grid {
  stroke: var(--ink-quiet);
  stroke-width: 1;
}
.together {
  fill: none;
  stroke: var(--sea);
}
.drift g line {
  stroke-width: 2;
}
figcaption {
  font-size: 13px;
}
</style>
