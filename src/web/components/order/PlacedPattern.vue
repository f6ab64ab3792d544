<script setup lang="ts">
/** A pattern in the running order: its name, how often it goes round, its ribbon. */
import { computed } from 'vue';
import type { PatternEvent, Placing } from '#core/document/schema.ts';
import { ICONS } from '../../theme/icons.ts';
import PatternMini from '../shared/PatternMini.vue';

const { placing, name, treatment, events, roundTicks, lengthTicks, colourById, chosen } = defineProps<{
  placing: Placing;
  name: string;
  /** How it sounds, if not as its part does by itself. */
  treatment: string;
  events: readonly PatternEvent[];
  roundTicks: number;
  lengthTicks: number;
  colourById: ReadonlyMap<string, string>;
  chosen: boolean;
}>();
const rounds = computed(() => lengthTicks / roundTicks);
const times = computed(() => (rounds.value > 1 ? `×${Number(rounds.value.toFixed(2))}` : ''));
const words = computed(() => {
  const states = [
    treatment && `sounds as ${treatment}`,
    placing.muted ? 'muted' : '',
    placing.isFill ? 'a fill' : '',
  ].filter((one) => one !== '');
  return [name, ...states].join(', ');
});
</script>

<template>
  <v-btn
    class="placed"
    :class="{ on: chosen, muted: placing.muted, fill: placing.isFill }"
    :aria-pressed="chosen"
    :aria-label="words"
    data-tip="Drag moves it, its ends stretch it, Alt copies it; arrows move it, with Shift they stretch it"
    data-testid="placing"
  >
    <span class="top">
      <span class="one-line">{{ name }}</span>
      <span v-if="treatment" class="one-line treatment">{{ treatment }}</span>
      <v-icon v-if="placing.muted" :icon="ICONS.mute" size="13" />
      <span v-if="placing.isFill" class="quiet">fill</span>
      <span class="mono times">{{ times }}</span>
    </span>
    <span class="mini" :style="{ '--round': `${100 / Math.max(rounds, 1e-3)}%` }">
      <span class="rounds">
        <span v-for="n in Math.min(64, Math.ceil(rounds))" :key="n" class="round"
          ><PatternMini :events="events" :length-ticks="roundTicks" :colour-by-id="colourById"
        /></span>
      </span>
    </span>
  </v-btn>
</template>

<style scoped>
.placed.v-btn.v-btn--density-default {
  position: absolute;
  top: 6px;
  height: 76px;
  min-width: 0;
  padding: 3px 5px 5px;
  background: var(--sheet);
  color: var(--ink);
  overflow: hidden;
  touch-action: none;
}
.placed.on.v-btn {
  border-color: var(--sea);
  box-shadow: inset 0 0 0 1px var(--sea);
}
.placed.fill.v-btn {
  border-style: dashed;
}
.placed.muted .mini {
  opacity: 0.3;
}
.placed :deep(.v-btn__content) {
  width: 100%;
  height: 100%;
  display: grid;
  grid-template: auto 1fr / minmax(0, 1fr);
  gap: 3px;
}
.top {
  display: flex;
  gap: 4px;
  font-size: 12px;
  font-weight: 500;
  justify-content: space-between;
}
.treatment {
  flex: 0 0 auto;
  max-width: 55%;
  padding: 0 5px;
  border: 1px solid var(--rule);
  border-radius: 7px;
  font-size: 11px;
  line-height: 14px;
}
.times {
  color: var(--ink-quiet);
}
.mini {
  overflow: hidden;
  height: 44px;
}
.rounds {
  display: flex;
  height: 100%;
}
.round {
  flex: 0 0 var(--round);
  height: 100%;
}
</style>
