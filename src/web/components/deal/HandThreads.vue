<script setup lang="ts">
/** The hand on the table in small: the loop above, the pattern beneath, a thread for each strip that is not where it was. */
import { computed } from 'vue';
import { loopTicksAt } from '#core/units/loop-time.ts';
import { loopLengthTicks } from '#core/units/time.ts';
import { ticksToX } from '../../canvas/pattern-layout.ts';
import { usePartSounds } from '../../stores/sound/part-sounds.ts';
import { useSession } from '../../stores/document/session.ts';
import { ribbonImage, stripesApart } from '../shared/ribbon.ts';

const session = useSession();
const sounds = usePartSounds();
const WIDTH = 224;
const HEIGHT = 26;
/** Of more than these nothing can be told apart. */
const MOST_THREADS = 96;
/** Nearer than this to where it was in the loop a strip has not moved, in pixels. */
const AT_HOME_PX = 1;

/** Where each zone of the shown sound lies in its loop, in pixels, and how much of it it takes. */
const homeById = computed(() => {
  const loop = session.cut?.loop;
  const share = (frame: number) =>
    loop ? loopTicksAt(loop, frame) / loopLengthTicks(loop) : frame / (session.source?.frames ?? 1);
  const own = session.zones.filter(({ cut, zone }) => cut.id === session.cut?.id && zone.plays.kind === 'slice');
  return new Map(own.map(({ zone, at }) => [zone.id, share(at.startFrame) * WIDTH]));
});
const threads = computed(() =>
  stripesApart(session.events, session.lengthTicks / MOST_THREADS).flatMap(({ id, zoneId, positionTicks }) => {
    const from = homeById.value.get(zoneId);
    const to = ticksToX(positionTicks, session.lengthTicks, WIDTH);
    if (from === undefined || Math.abs(from - to) < AT_HOME_PX) return [];
    const [a, b] = [(from + 2).toFixed(1), (to + 2).toFixed(1)];
    const path = `M${a} 0C${a} ${HEIGHT * 0.6} ${b} ${HEIGHT * 0.4} ${b} ${HEIGHT}`;
    return [{ id, path, colour: sounds.colourById.get(zoneId) }];
  }),
);
const loopImage = computed(() => {
  const places = [...homeById.value].sort(([, a], [, b]) => a - b);
  const steps = places.map(([zoneId, x], place) => ({
    id: zoneId,
    zoneId,
    positionTicks: x,
    lengthTicks: (places[place + 1]?.[1] ?? WIDTH) - x,
    values: {},
  }));
  return ribbonImage(steps, WIDTH, sounds.colourById);
});
const image = computed(() => ribbonImage(session.events, session.lengthTicks, sounds.colourById));
</script>

<template>
  <div class="hand" aria-hidden="true">
    <span class="ribbon" :style="{ backgroundImage: loopImage }" />
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" preserveAspectRatio="none">
      <path v-for="{ id, path, colour } in threads" :key="id" :d="path" :stroke="colour" />
    </svg>
    <span class="ribbon" :style="{ backgroundImage: image }" />
  </div>
</template>

<style scoped>
.hand {
  height: 100%;
  display: grid;
  grid-template-rows: 8px minmax(0, 1fr) 10px;
}
svg {
  width: 100%;
  height: 100%;
}
path {
  fill: none;
  stroke-width: 1.5;
  vector-effect: non-scaling-stroke;
}
</style>
