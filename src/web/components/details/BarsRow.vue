<script setup lang="ts">
/** Bars that a player made longer and shorter: told where the hits say so, followed by a click, made even again. */
import { watchDebounced } from '@vueuse/core';
import { computed, shallowRef } from 'vue';
import type { Loop } from '#core/document/schema.ts';
import { setLoop } from '#core/project/commands/parts.ts';
import { partValues } from '#core/queries/values.ts';
import { feelStepTicks } from '#core/strips/feel-step.ts';
import { barTempi } from '#core/units/loop-time.ts';
import { library } from '../../audio/services.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';

/** Ends that are being dragged are waited for. */
const LOOKED_AFTER_MS = 300;
/** In longer ones looking unasked would keep the worker from what was asked of it. */
const MOST_BARS = 64;

const project = useProject();
const session = useSession();
const loop = computed(() => session.cut!.loop!);
/** What the hits say, of which loop. */
const heard = shallowRef<{ loop: Loop; barFrames: number[] | null } | null>(null);
const suggested = computed(() => (heard.value?.loop === loop.value ? heard.value.barFrames : null));

watchDebounced(
  () => [loop.value, partValues(session.part!).feelStep, session.loaded !== null] as const,
  async ([looked, feelStep, isLoaded]) => {
    const { cut } = session;
    // Another loop may be looked at by now, or none.
    if (!isLoaded || !cut || cut.loop !== looked) return;
    if (looked.barFrames || looked.bars < 2 || looked.bars > MOST_BARS) return;
    // Where it fails, nothing is suggested: nobody has asked.
    const barFrames = await library.findBars(cut.sourceId, looked, feelStepTicks(feelStep)).catch((): null => null);
    heard.value = { loop: looked, barFrames };
  },
  { debounce: LOOKED_AFTER_MS, immediate: true },
);

function tempiOf(barFrames: readonly number[]): string {
  const { slowestBpm, fastestBpm } = barTempi({ ...loop.value, barFrames }, session.source!.sampleRate);
  return `${slowestBpm.toFixed(1)} to ${fastestBpm.toFixed(1)} bpm`;
}

function follow(barFrames: number[]): void {
  project.run('bars as they were played', setLoop, { cutId: session.cut!.id, loop: { barFrames } });
}

function makeEven(): void {
  project.run('bars of one length', setLoop, { cutId: session.cut!.id, loop: { barFrames: undefined } });
}
</script>

<template>
  <p v-if="loop.barFrames" class="bars quiet small" data-testid="bars-of-loop">
    Each bar has its own length: {{ tempiOf(loop.barFrames) }}.
    <v-btn data-tip="Bars of one length again" @click="makeEven">all alike</v-btn>
  </p>
  <p v-else-if="suggested" class="bars small" data-testid="bars-of-loop">
    It was played at {{ tempiOf(suggested) }}, bar by bar.
    <v-btn
      data-tip="A line where each bar begins, to be dragged in the ruler: the loop then keeps the song’s time in every bar"
      @click="follow(suggested)"
      >follow its bars</v-btn
    >
  </p>
</template>

<style scoped>
.bars {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
}
</style>
