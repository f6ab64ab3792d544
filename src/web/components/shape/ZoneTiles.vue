<script setup lang="ts">
/** Every slice of the part with the shape that it has: one sees which differ, and picks those to change. */
import { computed } from 'vue';
import { peakBetween } from '#core/dsp/peaks.ts';
import { zoneValues } from '#core/queries/values.ts';
import { envelopePoints } from '../../canvas/envelope-shape.ts';
import { useSession } from '../../stores/session.ts';
import { useTransport } from '../../stores/transport.ts';
import SkylineMini from '../shared/SkylineMini.vue';

const session = useSession();
const transport = useTransport();
const STRETCHES = 24;

const tiles = computed(() => {
  const peaks = session.loaded?.peaks;
  const rate = session.loaded?.sampleRate ?? 44100;
  return session.placed.map((at) => {
    const placed = session.zoneBySlice.get(at.slice.id);
    const values = placed ? zoneValues(placed.zone) : null;
    const lengthMs = ((at.endFrame - at.startFrame) / rate) * 1000;
    const points = values ? envelopePoints(values, lengthMs) : null;
    const total = points?.[4].timeMs ?? 1;
    const each = (at.endFrame - at.startFrame) / STRETCHES;
    return {
      at,
      zoneId: placed?.zone.id,
      levels: peaks
        ? Array.from({ length: STRETCHES }, (_, i) =>
            peakBetween(peaks, at.startFrame + i * each, at.startFrame + (i + 1) * each),
          )
        : [],
      line: points?.map(({ timeMs, level }) => `${(timeMs / total) * 100},${(1 - level) * 38 + 1}`).join(' ') ?? '',
      signs: [
        values && values.gainDb !== 0 ? `${values.gainDb > 0 ? '+' : ''}${values.gainDb.toFixed(1)} dB` : '',
        values && values.filter !== 'off' ? `${values.filter} ${Math.round(values.cutoffHz)} Hz` : '',
        values?.reverse ? 'backwards' : '',
      ].filter(Boolean),
    };
  });
});
const chosen = computed(() => new Set(session.sliceIds));

function pick(event: MouseEvent, sliceId: string, zoneId: string | undefined): void {
  if (event.shiftKey) session.selectSliceRange(sliceId);
  else session.selectSlices([sliceId], event.ctrlKey || event.metaKey);
  if (zoneId) transport.playZone(zoneId);
}
</script>

<template>
  <ul class="tiles" data-testid="zone-tiles" aria-label="Slices">
    <li v-for="{ at, zoneId, levels, line, signs } in tiles" :key="at.slice.id">
      <v-btn
        class="tile"
        :class="{ on: chosen.has(at.slice.id) }"
        :aria-pressed="chosen.has(at.slice.id)"
        :aria-label="`Slice ${at.index + 1}, ${at.label}`"
        data-tip="Click hears it and chooses it; Shift and Ctrl choose several"
        @click="pick($event, at.slice.id, zoneId)"
      >
        <span class="words one-line"
          ><b class="mono">{{ at.index + 1 }}</b> {{ at.label }}</span
        >
        <span class="picture">
          <SkylineMini :levels="levels" :colour="session.colours[at.index]" />
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
