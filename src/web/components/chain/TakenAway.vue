<script setup lang="ts">
/** What an effect has taken away over the last seconds, drawn over the level that came in; of a limiter its loudness, too. */
import { useElementSize } from '@vueuse/core';
import { onBeforeUnmount, onMounted, ref, useTemplateRef, watch } from 'vue';
import type { Effect } from '#core/document/schema.ts';
import { engine } from '../../audio/services.ts';

const { effect } = defineProps<{ effect: Effect }>();
const box = useTemplateRef<HTMLElement>('box');
const levelPath = useTemplateRef<SVGPathElement>('levelPath');
const takenPath = useTemplateRef<SVGPathElement>('takenPath');
const { width } = useElementSize(box);
const HEIGHT = 84;
/** As many looks as are shown: about four seconds. */
const LOOKS = 140;
const FLOOR_DB = -48;
/** What is taken away is drawn from the top, by the same measure as the level. */
const levels = new Float32Array(LOOKS).fill(FLOOR_DB);
const taken = new Float32Array(LOOKS);
const takenNow = ref(0);
const loudness = ref<number | null>(null);
let quietLooks = LOOKS;
let stop = () => {};

const y = (dB: number) => Math.max(0, Math.min(HEIGHT, (dB / FLOOR_DB) * HEIGHT));

function draw(): void {
  const each = Math.max(60, width.value) / (LOOKS - 1);
  const line = (values: Float32Array, sign: number) =>
    Array.from(values, (dB, i) => `${(i * each).toFixed(1)},${y(sign * dB).toFixed(1)}`).join('L');
  const right = (each * (LOOKS - 1)).toFixed(1);
  levelPath.value?.setAttribute('d', `M0,${HEIGHT}L${line(levels, 1)}L${right},${HEIGHT}Z`);
  takenPath.value?.setAttribute('d', `M0,0L${line(taken, -1)}L${right},0`);
}

onMounted(() => {
  draw();
  stop = engine.onStatus(({ mix }) => {
    const look = mix.readings.find(({ id }) => id === effect.id);
    const levelDb = Math.max(FLOOR_DB, look?.levelDb ?? FLOOR_DB);
    const away = Math.max(0, look?.reading ?? 0);
    quietLooks = levelDb > FLOOR_DB || away > 0.01 ? 0 : quietLooks + 1;
    // Nothing moves any more.
    if (quietLooks > LOOKS) return;
    levels.copyWithin(0, 1);
    taken.copyWithin(0, 1);
    levels[LOOKS - 1] = levelDb;
    taken[LOOKS - 1] = away;
    takenNow.value = Math.round(away * 10) / 10;
    const lufs = look?.loudnessLufs;
    loudness.value = lufs === undefined ? null : lufs;
    draw();
  });
});
watch(width, draw);
watch(
  () => effect.id,
  () => {
    levels.fill(FLOOR_DB);
    taken.fill(0);
    draw();
  },
);
onBeforeUnmount(() => stop());
</script>

<template>
  <div class="taken" data-testid="taken-away">
    <div ref="box" class="picture" :style="{ height: `${HEIGHT}px` }">
      <svg :viewBox="`0 0 ${Math.max(60, width)} ${HEIGHT}`" aria-hidden="true">
        <line v-for="dB in [-12, -24, -36]" :key="dB" x1="0" :x2="width" :y1="y(dB)" :y2="y(dB)" class="tick" />
        <path ref="levelPath" class="level" />
        <path ref="takenPath" class="away" />
      </svg>
    </div>
    <div class="told">
      <span class="quiet">taken away</span><span class="mono" data-testid="taken-db">{{ takenNow.toFixed(1) }}</span
      ><span class="quiet">dB</span>
      <template v-if="loudness !== null">
        <span class="quiet loud">loudness</span
        ><span class="mono" data-testid="loudness">{{ Number.isFinite(loudness) ? loudness.toFixed(1) : '–' }}</span
        ><span class="quiet" data-tip="Over the last three seconds, by EBU Tech 3341">LUFS</span>
      </template>
    </div>
  </div>
</template>

<style scoped src="../fields/curve.css"></style>
<style scoped>
.taken {
  margin-top: 6px;
}
.tick {
  stroke: var(--rule);
}
.level {
  fill: var(--sea);
  opacity: 0.3;
}
.away {
  fill: none;
  stroke: var(--signal);
  stroke-width: 1.8;
}
.told {
  display: flex;
  gap: 5px;
  margin-top: 4px;
  font-size: 13px;
}
.loud {
  margin-left: auto;
}
</style>
