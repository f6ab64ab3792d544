<script setup lang="ts">
/** Some sounds of the part with the shape that each has. */
import { computed } from 'vue';
import { peakBetween } from '#core/dsp/peaks.ts';
import { zoneValues } from '#core/queries/values.ts';
import type { PlacedZone } from '#core/queries/zones.ts';
import { envelopePoints } from '../../canvas/envelope-shape.ts';
import { usePartSounds } from '../../stores/sound/part-sounds.ts';
import SkylineMini from '../shared/SkylineMini.vue';

const { placed, chosen } = defineProps<{ placed: readonly PlacedZone[]; chosen: ReadonlySet<string> }>();
const emit = defineEmits<{ pick: [event: MouseEvent, zoneId: string] }>();
const sounds = usePartSounds();
const STRETCHES = 24;

const tiles = computed(() =>
  placed.map((one) => {
    const { at, zone, cut } = one;
    const { peaks, sampleRate } = sounds.soundOf(cut.id);
    const values = zoneValues(zone);
    const points = envelopePoints(values, ((at.endFrame - at.startFrame) / sampleRate) * 1000);
    const total = points[4].timeMs || 1;
    const each = (at.endFrame - at.startFrame) / STRETCHES;
    return {
      id: zone.id,
      number: at.index < 0 ? '' : `${at.index + 1}`,
      label: at.index < 0 ? 'whole loop' : at.label,
      colour: sounds.colourOf(one),
      levels: peaks
        ? Array.from({ length: STRETCHES }, (_, i) =>
            peakBetween(peaks, at.startFrame + i * each, at.startFrame + (i + 1) * each),
          )
        : [],
      line: points.map(({ timeMs, level }) => `${(timeMs / total) * 100},${(1 - level) * 38 + 1}`).join(' '),
      signs: [
        values.gainDb !== 0 ? `${values.gainDb > 0 ? '+' : ''}${values.gainDb.toFixed(1)} dB` : '',
        values.filter !== 'off' ? `${values.filter} ${Math.round(values.cutoffHz)} Hz` : '',
        values.reverse ? 'backwards' : '',
      ].filter(Boolean),
    };
  }),
);
</script>

<template>
  <ul class="tiles" aria-label="Sounds">
    <li v-for="{ id, number, label, colour, levels, line, signs } in tiles" :key="id">
      <v-btn
        class="tile"
        :class="{ on: chosen.has(id) }"
        :aria-pressed="chosen.has(id)"
        :aria-label="number ? `Slice ${number}, ${label}` : label"
        data-tip="Click hears it and chooses it; Shift and Ctrl choose several"
        @click="emit('pick', $event as MouseEvent, id)"
      >
        <span class="words one-line"
          ><b class="mono">{{ number }}</b> {{ label }}</span
        >
        <span class="picture">
          <SkylineMini :levels="levels" :colour="colour" />
          <svg viewBox="0 0 100 40" preserveAspectRatio="none" aria-hidden="true"><polyline :points="line" /></svg>
        </span>
        <span class="signs one-line">{{ signs.join(' · ') || 'as it is' }}</span>
      </v-btn>
    </li>
  </ul>
</template>

<style scoped>
.tiles {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(104px, 1fr));
  gap: 6px;
}
.tile.v-btn.v-btn--density-default {
  width: 100%;
  height: 84px;
  padding: 4px 6px;
  background: var(--sheet);
  color: var(--ink);
  font-weight: 400;
}
.tile.on.v-btn {
  border-color: var(--sea);
  background: var(--sea-wash);
  box-shadow: inset 0 0 0 1px var(--sea);
}
.tile :deep(.v-btn__content) {
  display: grid;
  width: 100%;
  grid-template-rows: auto 1fr auto;
  grid-template-columns: minmax(0, 1fr);
  text-align: left;
  gap: 2px;
  height: 100%;
  padding-block: 2px;
}
.picture {
  position: relative;
  border-bottom: 1px solid var(--ink);
  height: 32px;
}
.picture svg:last-child {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  overflow: visible;
}
polyline {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.6;
  vector-effect: non-scaling-stroke;
}
.signs {
  color: var(--ink-quiet);
}
</style>
