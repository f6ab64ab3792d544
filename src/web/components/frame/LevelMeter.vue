<script setup lang="ts">
/**
 * How loud it is: a bar a side with the peak of the last seconds held, in dB below full scale, and a mark that stays where
 * something was over. It moves outside Vue: it changes with every frame of the screen.
 */
import { ref, useTemplateRef } from 'vue';
import { usePictures } from '../../canvas/pictures.ts';
import { MeterBallistics, METER_RANGE_DB } from '../../audio/meter.ts';

const {
  read,
  sides = 1,
  label,
} = defineProps<{
  /** Peaks since the last look, one a side, as amplitudes. */
  read: () => readonly number[];
  sides?: number;
  label: string;
}>();
const bars = useTemplateRef<HTMLElement[]>('bars');
const holds = useTemplateRef<HTMLElement[]>('holds');
const number = useTemplateRef<HTMLElement>('number');
const isOver = ref(false);
const ballistics = Array.from({ length: sides }, () => new MeterBallistics());
let lastWords = '';

const shareOf = (db: number) => Math.max(0, Math.min(1, 1 + db / METER_RANGE_DB));

usePictures((timestamp) => {
  const peaks = read();
  let loudest = -Infinity;
  ballistics.forEach((meter, side) => {
    meter.take(peaks[side] ?? 0, timestamp);
    loudest = Math.max(loudest, meter.heldDb);
    bars.value![side]!.style.backgroundSize = `${(shareOf(meter.shownDb) * 100).toFixed(1)}% 100%`;
    holds.value![side]!.style.left = `${(shareOf(meter.heldDb) * 100).toFixed(1)}%`;
    holds.value![side]!.style.visibility = meter.heldDb > -METER_RANGE_DB ? '' : 'hidden';
    if (meter.isOver && !isOver.value) isOver.value = true;
  });
  const words = loudest > -METER_RANGE_DB ? `${loudest > 0 ? '+' : ''}${loudest.toFixed(1)}` : '–∞';
  if (words === lastWords || !number.value) return;
  number.value.textContent = lastWords = words;
  number.value.setAttribute('aria-valuenow', String(Math.max(-METER_RANGE_DB, Math.round(loudest * 10) / 10)));
});

function forget(): void {
  isOver.value = false;
  for (const meter of ballistics) meter.forget();
}
</script>

<template>
  <div class="meter" :data-tip="`${label}: the loudest of the last seconds in dB; click forgets it`" @click="forget">
    <div class="bars" aria-hidden="true">
      <div v-for="side in sides" :key="side" class="bar">
        <span ref="bars" class="fill" /><span ref="holds" class="hold" />
      </div>
    </div>
    <span
      ref="number"
      class="mono number"
      :class="{ over: isOver }"
      role="meter"
      :aria-label="label"
      :aria-valuemin="-METER_RANGE_DB"
      :aria-valuenow="-METER_RANGE_DB"
      :aria-valuemax="6"
      >–∞</span
    >
    <v-btn
      v-if="isOver"
      class="clip"
      :aria-label="`${label} was over full scale: forget it`"
      data-tip="It was over full scale, and is cut off there: lower it, or take it away as 32 bit float. Click forgets it"
      @click.stop="forget"
      >over</v-btn
    >
  </div>
</template>

<style scoped>
.meter {
  display: flex;
  align-items: center;
  gap: 6px;
  cursor: pointer;
}
.bars {
  flex: 1;
  display: grid;
  gap: 3px;
  min-width: 24px;
}
.bar {
  position: relative;
  height: 7px;
  background: var(--meter-ground, var(--rule));
}
.fill {
  display: block;
  height: 100%;
  /* Painted anew, not moved: a transform has the browser put all layers of the page together again with every frame. */
  background: linear-gradient(var(--moss), var(--moss)) no-repeat;
  background-size: 0 100%;
}
.hold {
  position: absolute;
  left: 0;
  top: 0;
  bottom: 0;
  width: 2px;
  margin-left: -2px;
  background: currentcolor;
}
.number {
  font-size: 13px;
  width: 40px;
  text-align: right;
}
.number.over {
  color: var(--over, var(--signal-ink));
  font-weight: 500;
}
.clip.clip {
  background: var(--signal);
  border-color: var(--signal);
  color: #fff;
  height: var(--control-low);
  padding: 0 5px;
}
</style>
