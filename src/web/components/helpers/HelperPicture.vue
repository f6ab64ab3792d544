<script setup lang="ts">
/** What a helper does, drawn from its settings; of a runner, where it is. */
import { computed, useTemplateRef } from 'vue';
import type { Helper } from '#core/document/schema.ts';
import { usePictures } from '../../canvas/pictures.ts';
import { useRecentPresses } from '../../stores/keys/recent-presses.ts';
import { chordKeys, echoDots, HEIGHT, KEYS_SHOWN, runnerDots, WIDTH } from './helper-pictures.ts';

const { helper } = defineProps<{ helper: Helper }>();
const presses = useRecentPresses();
const live = useTemplateRef<SVGElement>('live');
const dots = computed(() =>
  helper.kind === 'runner' ? runnerDots(helper) : helper.kind === 'echoes' ? echoDots(helper) : [],
);
const keys = computed(() => (helper.kind === 'chord' ? chordKeys(helper) : []));
const keyWidth = WIDTH / KEYS_SHOWN;
let shownCount = -1;
// Outside Vue: it moves with every step that is heard.
usePictures(() => {
  if (helper.kind !== 'runner' || !live.value || presses.struckCount() === shownCount) return;
  shownCount = presses.struckCount();
  const isLately = presses.isRunning();
  live.value.style.opacity = isLately ? '1' : '0';
  const dot = dots.value[shownCount % dots.value.length];
  if (dot) live.value.setAttribute('transform', `translate(${dot.x} 0)`);
});
</script>

<template>
  <svg class="picture" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" preserveAspectRatio="none" aria-hidden="true">
    <template v-if="helper.kind === 'chord'">
      <rect
        v-for="key in keys"
        :key="key.semitones"
        :x="(key.semitones + 0.08) * keyWidth"
        :y="key.isBlack ? 0 : 4"
        :width="keyWidth * 0.84"
        :height="key.isBlack ? HEIGHT * 0.58 : HEIGHT - 6"
        :class="[key.isOn ? 'on' : key.isBlack ? 'black' : 'white']"
      />
    </template>
    <template v-else>
      <line
        v-for="beat in helper.kind === 'runner' ? [1, 2, 3] : []"
        :key="beat"
        :x1="(beat * WIDTH) / 4"
        :x2="(beat * WIDTH) / 4"
        y1="0"
        :y2="HEIGHT"
        class="beat"
      />
      <template v-for="(dot, place) in dots" :key="place">
        <rect
          v-if="helper.kind === 'echoes'"
          :x="dot.x"
          :y="HEIGHT - 3 - dot.strength * (HEIGHT - 10)"
          :width="dot.length"
          :height="Math.max(1, dot.strength * (HEIGHT - 10))"
          :class="['hit', { first: place === 0 }]"
        />
        <rect
          v-else
          :x="dot.x - 2"
          :y="dot.y - 2.5"
          :width="dot.length"
          height="5"
          :class="['hit', { rest: dot.isRest, octave: dot.isOctave }]"
          :style="{ opacity: dot.isRest ? undefined : 0.35 + 0.65 * dot.strength }"
        />
      </template>
      <line v-if="helper.kind === 'runner'" ref="live" class="live" x1="0" x2="0" y1="0" :y2="HEIGHT" />
    </template>
  </svg>
</template>

<style scoped>
.picture {
  display: block;
  width: 100%;
  height: 100%;
  background: var(--paper);
}
.white {
  fill: var(--sheet);
  stroke: var(--rule);
}
.black {
  fill: var(--ink);
}
.on {
  fill: var(--sea);
}
.beat {
  stroke: var(--rule);
}
.hit {
  fill: var(--sea);
}
.hit.first {
  fill: var(--ink);
}
.hit.octave {
  fill: var(--moss);
}
.hit.rest {
  fill: none;
  stroke: var(--ink-quiet);
  stroke-dasharray: 2 2;
}
.live {
  stroke: var(--signal);
  stroke-width: 2;
  opacity: 0;
}
</style>
