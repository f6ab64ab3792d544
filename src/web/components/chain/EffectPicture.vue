<script setup lang="ts">
/** What an effect does, drawn from its settings; what it takes away as it runs stands at the edge. */
import { computed, useTemplateRef } from 'vue';
import type { Effect } from '#core/document/schema.ts';
import { usePictures } from '../../canvas/pictures.ts';
import { engine } from '../../audio/services.ts';
import { effectPicture, HEIGHT, WIDTH } from './effect-pictures.ts';

const { effect } = defineProps<{ effect: Effect }>();
/** A reading that reaches the whole height: of what is taken away, in dB; a gate is open or shut. */
const FULL: Partial<Record<Effect['kind'], number>> = {
  compressor: 24,
  limiter: 24,
  ducking: 24,
  filter: 6,
  gate: 1,
};
const live = useTemplateRef<HTMLElement>('live');
let shown = -1;
// Outside Vue: it moves with every frame of the screen.
usePictures(() => {
  const full = FULL[effect.kind];
  if (full === undefined || !live.value) return;
  const reading = engine.status.mix.readings.find(({ id }) => id === effect.id)?.reading ?? 0;
  const share = Math.round(Math.max(0, Math.min(1, Math.abs(reading) / full)) * 64) / 64;
  if (share === shown) return;
  shown = share;
  live.value.style.backgroundSize = `100% ${share * 100}%`;
});
const shapes = computed(() => effectPicture(effect.kind, effect.values));
</script>

<template>
  <div class="face-box">
    <svg class="effect-picture" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" preserveAspectRatio="none" aria-hidden="true">
      <path v-for="(shape, index) in shapes" :key="index" :d="shape.path" :class="shape.look" />
    </svg>
    <div v-if="FULL[effect.kind]" ref="live" class="live" aria-hidden="true" />
  </div>
</template>

<style scoped>
.face-box {
  position: relative;
  height: 64px;
}
.live {
  position: absolute;
  inset: 0 0 0 auto;
  width: 5px;
  background: linear-gradient(var(--signal), var(--signal)) no-repeat;
  background-size: 100% 0;
}
.effect-picture {
  display: block;
  width: 100%;
  height: 100%;
  background: var(--paper);
}
path {
  fill: none;
  stroke: none;
  vector-effect: non-scaling-stroke;
}
.line {
  stroke: var(--ink);
  stroke-width: 1.7;
}
.faint {
  stroke: var(--ink-quiet);
  stroke-width: 1;
  opacity: 0.55;
}
.area {
  fill: var(--sea);
  opacity: 0.3;
}
.bar {
  fill: var(--ink);
}
.warm {
  stroke: var(--signal);
  stroke-width: 1.3;
}
</style>
