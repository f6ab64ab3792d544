<script setup lang="ts">
/** Grid, copying, making and removing patterns. */
import { computed } from 'vue';
import { GRID_CHOICES } from '#core/patterns/grid.ts';
import { createPattern, removePattern, setPatternLength } from '#core/project/commands/patterns.ts';
import { isHome } from '#core/project/schema.ts';
import { songValues } from '#core/queries/values.ts';
import { tip } from '../../input/shortcuts.ts';
import { useEditing } from '../../stores/editing.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import DocumentField from '../fields/DocumentField.vue';

const project = useProject();
const session = useSession();
const editing = useEditing();
const gridValue = computed(() => String(session.gridStepTicks ?? 'free'));

const barTicks = computed(
  () => (session.cut?.loop?.beatsPerBar ?? songValues(project.document!).beatsPerBar) * TICKS_PER_BEAT,
);

function putLength(bars: number): void {
  project.run('length of the pattern', setPatternLength, {
    patternId: session.patternId,
    lengthTicks: Math.round(bars * barTicks.value),
  });
}

function setGrid(event: Event): void {
  const { value } = event.target as HTMLSelectElement;
  session.gridStepTicks = value === 'free' ? null : Number(value);
}
</script>

<template>
  <label class="quiet grid">
    grid
    <select
      class="plain-select"
      :value="gridValue"
      title="Strips snap to this; with Alt held they move freely"
      @change="setGrid"
    >
      <option v-for="choice in GRID_CHOICES" :key="choice.label" :value="String(choice.stepTicks ?? 'free')">
        {{ choice.label }}
      </option>
    </select>
  </label>
  <DocumentField
    v-if="session.pattern"
    class="bars"
    label="bars"
    data-testid="pattern-bars"
    hint="Length of this pattern; parts may differ, each goes round by itself"
    :model-value="session.pattern.lengthTicks / barTicks"
    :min="0.25"
    :max="64"
    :step="1"
    :digits="2"
    undo="length of the pattern"
    @put="putLength"
  />
  <button class="push small" :title="tip('copy-pattern')" @click="editing.copyCurrentPattern()">copy</button>
  <button
    class="push small"
    title="A new empty pattern as long as the loop"
    @click="project.run('new pattern', createPattern, { partId: session.part!.id })"
  >
    new
  </button>
  <button
    class="push small"
    :disabled="isHome(session.patternId)"
    title="Remove this pattern"
    @click="project.run('remove pattern', removePattern, { patternId: session.patternId })"
  >
    remove
  </button>
</template>

<style scoped>
.bars {
  width: 92px;
}
.grid {
  display: flex;
  align-items: center;
  gap: 6px;
  font-size: 13px;
}
</style>
