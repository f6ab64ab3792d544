<script setup lang="ts">
/** Cutting another way: on a grid, in equal parts, at notes, or at hits again. Locked and hand-made markers stay. */
import { computed, ref } from 'vue';
import { foundSlices } from '#core/project/new-part.ts';
import { recut } from '#core/project/commands/cut.ts';
import type { Cut } from '#core/project/schema.ts';
import { GRID_CHOICES } from '#core/patterns/grid.ts';
import { loopTempoBpm } from '#core/units/time.ts';
import { describeFailure } from '../api/words.ts';
import { library } from '../audio/services.ts';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';
import { useSession } from '../stores/session.ts';
import type { CutRequest } from '../workers/analysis-protocol.ts';

const project = useProject();
const session = useSession();
const notices = useNotices();
const working = ref(false);

const part = computed(() => session.part!);
const cut = computed(() => project.document!.cuts[part.value.id]!);
const gridSteps = GRID_CHOICES.filter((choice) => choice.stepTicks !== null);

interface WayToCut {
  value: string;
  words: string;
  settings: Partial<Pick<Cut, 'method' | 'stepTicks' | 'count'>>;
}

const ways: WayToCut[] = [
  { value: 'hits', words: 'at hits', settings: { method: 'hits' } },
  { value: 'pitch', words: 'at notes', settings: { method: 'pitch' } },
  ...gridSteps.map((choice) => ({
    value: `grid-${choice.stepTicks}`,
    words: `on a grid of ${choice.label}`,
    settings: { method: 'grid' as const, stepTicks: choice.stepTicks! },
  })),
  ...[4, 8, 16, 32, 64].map((count) => ({
    value: `parts-${count}`,
    words: `in ${count} equal parts`,
    settings: { method: 'parts' as const, count },
  })),
];

const current = computed(() => {
  const { method, stepTicks, count } = cut.value;
  if (method === 'grid') return `grid-${stepTicks}`;
  return method === 'parts' ? `parts-${count}` : method;
});

function requestFor(settings: WayToCut['settings']): CutRequest {
  const { loop } = part.value;
  const { sampleRate } = project.document!.sources[part.value.sourceId]!;
  const { startFrame, endFrame } = loop;
  switch (settings.method) {
    case 'grid': {
      const tempoBpm = loopTempoBpm(loop.bars, loop.beatsPerBar, endFrame - startFrame, sampleRate);
      return { method: 'grid', stepTicks: settings.stepTicks!, tempoBpm, startFrame, endFrame };
    }
    case 'parts':
      return { method: 'parts', count: settings.count!, startFrame, endFrame };
    case 'pitch':
      return { method: 'pitch', minLengthMs: 60 };
    default:
      return { method: 'hits', sensitivity: cut.value.sensitivity, minGapMs: cut.value.minGapMs };
  }
}

async function choose(event: Event): Promise<void> {
  const way = ways.find(({ value }) => value === (event.target as HTMLSelectElement).value);
  if (!way) return;
  const { id: partId, sourceId } = part.value;
  working.value = true;
  try {
    const found = await library.cut(sourceId, requestFor(way.settings));
    const slices = foundSlices(found.markers, found.facts);
    project.run(`cut ${way.words}`, recut, { partId, settings: way.settings, slices });
  } catch (error) {
    notices.error(describeFailure('Cutting', error));
  } finally {
    working.value = false;
  }
}
</script>

<template>
  <label class="quiet way">
    cut
    <select
      class="plain-select"
      :value="current"
      :disabled="working"
      title="How the boundaries are found; locked and hand-made markers stay"
      @change="choose"
    >
      <option v-for="way in ways" :key="way.value" :value="way.value">{{ way.words }}</option>
    </select>
  </label>
</template>

<style scoped>
.way {
  font-size: 13px;
  display: flex;
  gap: 6px;
  align-items: center;
}
</style>
