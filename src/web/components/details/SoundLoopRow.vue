<script setup lang="ts">
/** What goes round in a sound: found by itself where it is not heard, the next best on asking, or set by hand. */
import { watchDebounced } from '@vueuse/core';
import { computed, ref, shallowRef, watch } from 'vue';
import type { LoopPoints } from '#core/analysis/loop-points.ts';
import { setZoneLoop } from '#core/project/commands/zones.ts';
import type { PlacedZone } from '#core/queries/zones.ts';
import { describeFailure } from '../../api/words.ts';
import { library } from '../../audio/services.ts';
import { usePartSounds } from '../../stores/sound/part-sounds.ts';
import { useNotices } from '../../stores/frame/notices.ts';
import { useProject } from '../../stores/document/project.ts';
import DocumentField from '../fields/DocumentField.vue';

const { placed } = defineProps<{ placed: PlacedZone }>();
const project = useProject();
const notices = useNotices();
const sounds = usePartSounds();
const found = shallowRef<readonly LoopPoints[]>([]);
const place = ref(0);
const isLooking = ref(false);
// What was found is of one sound.
watch(
  () => `${placed.zone.id} ${placed.at.startFrame} ${placed.at.endFrame}`,
  () => {
    found.value = [];
    place.value = 0;
  },
);

const rate = computed(() => sounds.soundOf(placed.cut.id).sampleRate);
const loop = computed(
  () =>
    placed.zone.loop ?? {
      startFrame: placed.at.startFrame,
      endFrame: placed.at.endFrame,
      crossfadeFrames: Math.round(0.005 * rate.value),
    },
);
/** How well it goes round, as it is now. */
const measured = shallowRef<Omit<LoopPoints, 'crossfadeFrames'> | null>(null);
watchDebounced(
  () => [placed.cut.sourceId, loop.value.startFrame, loop.value.endFrame] as const,
  async ([sourceId, startFrame, endFrame]) => {
    const quality = await library.loopQuality(sourceId, { startFrame, endFrame }).catch(() => null);
    // Another one may be looked at by now.
    if (startFrame === loop.value.startFrame && endFrame === loop.value.endFrame) {
      measured.value = quality && { ...quality, startFrame, endFrame };
    }
  },
  { debounce: 80, immediate: true },
);
const quality = computed(() => {
  if (!placed.zone.loop) return 'all of it';
  if (measured.value?.startFrame !== loop.value.startFrame || measured.value.endFrame !== loop.value.endFrame)
    return '';
  const { likeness, levelStepDb } = measured.value;
  const words = likeness > 0.99 ? 'very good' : likeness > 0.95 ? 'good' : likeness > 0.85 ? 'fair' : 'rough';
  return `${words}: ${Math.round(likeness * 100)}% alike, ${levelStepDb >= 0 ? '+' : ''}${levelStepDb.toFixed(1)} dB`;
});

function put(change: Partial<typeof loop.value>, words = 'loop'): void {
  project.run(words, setZoneLoop, { zoneId: placed.zone.id, loop: { ...loop.value, ...change } });
}

/** Finds a loop, or takes the next of those that were found. */
async function find(): Promise<void> {
  if (found.value.length > 0) place.value = (place.value + 1) % found.value.length;
  else {
    isLooking.value = true;
    try {
      const { startFrame, endFrame } = placed.at;
      found.value = await library.loopPoints(placed.cut.sourceId, { startFrame, endFrame });
      place.value = 0;
    } catch (error) {
      notices.error(describeFailure('Looking for a loop', error));
    } finally {
      isLooking.value = false;
    }
    if (found.value.length === 0)
      notices.info('No place was found where it could go round: it is too short, or silent.');
  }
  const one = found.value[place.value];
  if (one)
    put({ startFrame: one.startFrame, endFrame: one.endFrame, crossfadeFrames: one.crossfadeFrames }, 'find a loop');
}
</script>

<template>
  <div class="loop" data-testid="sound-loop">
    <div class="row">
      <span>{{ quality }}</span>
      <span class="buttons">
        <v-btn :disabled="isLooking" data-tip="Look for a place where going round is not heard" @click="find">{{
          found.length > 1 ? `next best (${place + 1} of ${found.length})` : isLooking ? 'looking …' : 'find a loop'
        }}</v-btn>
        <v-btn
          v-if="placed.zone.loop"
          data-tip="The whole sound goes round"
          @click="project.run('whole sound round', setZoneLoop, { zoneId: placed.zone.id, loop: null })"
          >all of it</v-btn
        >
      </span>
    </div>
    <div class="three">
      <DocumentField
        label="loop start"
        stacked
        unit="frames"
        :model-value="loop.startFrame"
        :min="placed.at.startFrame"
        :max="loop.endFrame - 1"
        undo="loop"
        @put="put({ startFrame: $event })"
      />
      <DocumentField
        label="loop end"
        stacked
        unit="frames"
        :model-value="loop.endFrame"
        :min="loop.startFrame + 1"
        :max="placed.at.endFrame"
        undo="loop"
        @put="put({ endFrame: $event })"
      />
      <DocumentField
        label="crossfade"
        stacked
        unit="ms"
        :digits="1"
        :model-value="(loop.crossfadeFrames / rate) * 1000"
        :min="0"
        :max="500"
        undo="loop"
        @put="put({ crossfadeFrames: Math.round(($event / 1000) * rate) })"
      />
    </div>
  </div>
</template>

<style scoped>
.loop {
  display: grid;
  gap: 4px;
}
.three {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 5px;
}
.row {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 6px;
  font-size: 13px;
}
.buttons {
  display: flex;
  gap: 4px;
}
</style>
