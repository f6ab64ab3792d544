<script setup lang="ts">
/** How far the pattern has gone from home: a sixteenth that is as in the loop is low, one that is not is tall. */
import { computed } from 'vue';
import { useHomeDistance } from '../../stores/pattern/home-distance.ts';

const home = useHomeDistance();
const WIDTH = 40;
const HEIGHT = 12;
const LOW = 3;

const distance = computed(() => home.distance);
const percent = computed(() => Math.round((distance.value?.share ?? 0) * 100));
/** One path, however many bars there are. */
const path = computed(() => {
  const steps = distance.value?.steps ?? [];
  const wide = WIDTH / Math.max(1, steps.length);
  return steps
    .map((isHome, step) => {
      const tall = isHome ? LOW : HEIGHT;
      return `M${(step * wide).toFixed(2)} ${HEIGHT}v${-tall}h${(wide * 0.8).toFixed(2)}v${tall}z`;
    })
    .join('');
});
</script>

<template>
  <div
    v-if="distance"
    class="distance"
    role="img"
    :aria-label="`${percent}% from home`"
    data-testid="home-distance"
    :data-tip="`${distance.moved} strips are not as in the loop, ${distance.missing} of the loop are missing`"
  >
    <svg :width="WIDTH" :height="HEIGHT" aria-hidden="true"><path :d="path" /></svg>
    <span class="quiet small">{{ percent }}% from home</span>
  </div>
</template>

<style scoped>
.distance {
  display: flex;
  gap: 6px;
  align-items: center;
  flex: none;
  white-space: nowrap;
  line-height: 1.25;
}
path {
  fill: var(--sea);
}
@media (max-width: 1100px) {
  .distance {
    display: none;
  }
}
</style>
