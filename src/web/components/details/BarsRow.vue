<script setup lang="ts">
/** How long the bars of the loop are: all alike, or each as it was played. */
import { computed, ref } from 'vue';
import { setLoop } from '#core/project/commands/parts.ts';
import { partValues } from '#core/queries/values.ts';
import { feelStepTicks } from '#core/strips/feel-step.ts';
import { barTempi } from '#core/units/loop-time.ts';
import { describeFailure } from '../../api/words.ts';
import { library } from '../../audio/services.ts';
import { useNotices } from '../../stores/frame/notices.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';

const project = useProject();
const session = useSession();
const notices = useNotices();
const loop = computed(() => session.cut!.loop!);
const words = computed(() => {
  if (!loop.value.barFrames) return 'Its bars are of one length.';
  const { slowestBpm, fastestBpm } = barTempi(loop.value, session.source!.sampleRate);
  return `Each bar has its own length: ${slowestBpm.toFixed(1)} to ${fastestBpm.toFixed(1)} bpm.`;
});
const isLooking = ref(false);

async function find(): Promise<void> {
  const cut = session.cut!;
  isLooking.value = true;
  try {
    const stepTicks = feelStepTicks(partValues(session.part!).feelStep);
    const barFrames = await library.findBars(cut.sourceId, cut.loop!, stepTicks);
    // Read otherwise meanwhile, it has other bars.
    if (project.document?.cuts[cut.id]?.loop !== cut.loop) return;
    if (barFrames) project.run('bars as they were played', setLoop, { cutId: cut.id, loop: { barFrames } });
    else notices.info('Its hits fit bars of one length as well as any others.');
  } catch (error) {
    notices.error(describeFailure('Finding the bars', error));
  } finally {
    isLooking.value = false;
  }
}

function makeEven(): void {
  project.run('bars of one length', setLoop, { cutId: session.cut!.id, loop: { barFrames: undefined } });
}
</script>

<template>
  <p class="bars quiet small" data-testid="bars-of-loop">
    {{ words }}
    <v-btn
      :loading="isLooking"
      data-tip="For a player who drifts: a line where each bar begins, to be dragged in the ruler. The loop then keeps the song’s time bar by bar."
      @click="find"
      >{{ loop.barFrames ? 'find them anew' : 'find each bar' }}</v-btn
    >
    <v-btn v-if="loop.barFrames" data-tip="Bars of one length again" @click="makeEven">all alike</v-btn>
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
