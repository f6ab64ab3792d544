<script setup lang="ts">
/** The ways to find the boundaries, each with its few settings; what a setting would give is shown while it moves. */
import { computed } from 'vue';
import { CUT_STEPS } from '#core/patterns/grid.ts';
import { clearMarkers } from '#core/project/commands/cut.ts';
import type { Cut, CutSettings } from '#core/project/schema.ts';
import { tip } from '../../input/shortcuts.ts';
import { METHOD_WORDS, useCutting } from '../../stores/cutting.ts';
import { useNotices } from '../../stores/notices.ts';
import { useProject } from '../../stores/project.ts';
import { useSession, type SnapTarget } from '../../stores/session.ts';
import NumberField from '../fields/NumberField.vue';

const project = useProject();
const session = useSession();
const cutting = useCutting();
const notices = useNotices();

const cut = computed(() => project.document!.cuts[session.part!.id]!);
const method = computed(() => cut.value.method);
const cueCount = computed(() => session.reading?.cueFrames.length ?? 0);
const methods = Object.entries(METHOD_WORDS) as [Cut['method'], string][];

interface CutField {
  name: keyof CutSettings &
    ('sensitivity' | 'minGapMs' | 'gridPullPercent' | 'swingPercent' | 'count' | 'minLengthMs' | 'tapWindowMs');
  label: string;
  hint: string;
  min: number;
  max: number;
  step: number;
  unit: string;
  reset: number;
  /** Shown number = stored number times this. */
  scale: number;
}

const FIELDS: Record<Cut['method'], CutField[]> = {
  hits: [
    {
      name: 'sensitivity',
      label: 'sensitivity',
      hint: 'The higher, the more hits: the water line below',
      min: 1,
      max: 98,
      step: 1,
      unit: '%',
      reset: 50,
      scale: 100,
    },
    {
      name: 'minGapMs',
      label: 'least gap',
      hint: 'Of hits nearer than this the stronger one stays',
      min: 0,
      max: 500,
      step: 1,
      unit: 'ms',
      reset: 18,
      scale: 1,
    },
    {
      name: 'gridPullPercent',
      label: 'pull to grid',
      hint: 'How far hits near a grid line are moved onto it',
      min: 0,
      max: 100,
      step: 5,
      unit: '%',
      reset: 0,
      scale: 1,
    },
  ],
  grid: [
    {
      name: 'swingPercent',
      label: 'swing',
      hint: 'Place of every second line in its pair: 50 is straight, 67 a triplet',
      min: 50,
      max: 75,
      step: 1,
      unit: '%',
      reset: 50,
      scale: 1,
    },
  ],
  parts: [
    {
      name: 'count',
      label: 'parts',
      hint: 'How many equal parts',
      min: 2,
      max: 128,
      step: 1,
      unit: '',
      reset: 16,
      scale: 1,
    },
  ],
  pitch: [
    {
      name: 'minLengthMs',
      label: 'shortest note',
      hint: 'Shorter notes are joined to the one before',
      min: 10,
      max: 500,
      step: 5,
      unit: 'ms',
      reset: 60,
      scale: 1,
    },
  ],
  taps: [
    {
      name: 'tapWindowMs',
      label: 'back to an attack within',
      hint: '0 leaves a tap exactly where it fell',
      min: 0,
      max: 500,
      step: 5,
      unit: 'ms',
      reset: 60,
      scale: 1,
    },
  ],
  file: [],
};
const fields = computed(() => FIELDS[method.value]);
const usesGrid = computed(() => method.value === 'grid' || (method.value === 'hits' && shown('gridPullPercent') > 0));

function shown(name: CutField['name']): number {
  return (cutting.draft?.[name] as number | undefined) ?? cut.value[name];
}

function draftField(field: CutField, value: number): void {
  void cutting.show({ [field.name]: value / field.scale });
}

function applyField(field: CutField): void {
  const value = cutting.draft?.[field.name];
  if (value === undefined) return;
  // How taps are taken is a setting for the next tap: nothing is found anew.
  void cutting.apply(field.label, { [field.name]: value, method: method.value });
}

function chooseMethod(event: Event): void {
  const chosen = (event.target as HTMLSelectElement).value as Cut['method'];
  if (chosen === 'taps') project.run('cut by tapping', clearMarkers, { partId: session.part!.id });
  else if (chosen === 'file' && cueCount.value === 0) {
    notices.info('This file names no places: it has no cue points and no loop.');
    (event.target as HTMLSelectElement).value = method.value;
  } else void cutting.apply(`cut ${METHOD_WORDS[chosen]}`, { method: chosen });
}
</script>

<template>
  <div class="cut-row" data-testid="cut-panel">
    <label class="way">
      <span class="quiet">cut</span>
      <select
        class="plain-select"
        :value="method"
        title="How the boundaries are found; locked and hand-made markers stay"
        data-testid="cut-method"
        @change="chooseMethod"
      >
        <option v-for="[value, words] in methods" :key="value" :value="value">{{ words }}</option>
      </select>
    </label>
    <NumberField
      v-for="field in fields"
      :key="field.name"
      class="field"
      :label="field.label"
      :hint="field.hint"
      :model-value="shown(field.name) * field.scale"
      :min="field.min"
      :max="field.max"
      :step="field.step"
      :unit="field.unit"
      :reset="field.reset"
      @update:model-value="draftField(field, $event)"
      @commit="applyField(field)"
      @cancel="cutting.forget()"
    />
    <select
      v-if="usesGrid"
      class="plain-select"
      :value="cut.stepTicks"
      aria-label="Step of the grid"
      title="Step of the grid"
      @change="cutting.apply('grid', { stepTicks: Number(($event.target as HTMLSelectElement).value) })"
    >
      <option v-for="step in CUT_STEPS" :key="step.label" :value="step.stepTicks">{{ step.label }}</option>
    </select>
    <template v-if="method === 'parts'">
      <button
        v-for="count in [8, 16, 32]"
        :key="count"
        class="push small"
        :aria-pressed="cut.count === count"
        @click="cutting.apply(`${count} parts`, { count })"
      >
        {{ count }}
      </button>
    </template>
    <span v-if="method === 'taps'" class="quiet say"
      >play, and press {{ tip('split', 'the marker key') }} at each hit</span
    >
    <label class="way snap">
      <span class="quiet">snap</span>
      <select
        class="plain-select"
        :value="session.snapTo"
        title="What markers snap to when they are set or dropped; Alt held down leaves them where they are"
        data-testid="snap-to"
        @change="session.snapTo = ($event.target as HTMLSelectElement).value as SnapTarget"
      >
        <option value="attack">to attacks</option>
        <option value="zero">to zero crossings</option>
        <option value="grid">to the grid</option>
        <option value="nothing">to nothing</option>
      </select>
    </label>
    <span v-if="method === 'file'" class="quiet say">{{ cueCount }} places are named in the file</span>
  </div>
</template>

<style scoped>
.cut-row {
  display: flex;
  align-items: center;
  gap: 14px;
  font-size: 13px;
  min-height: 28px;
  min-width: 0;
}
.way {
  display: flex;
  gap: 6px;
  align-items: center;
}
.snap {
  margin-left: auto;
  order: 1;
}
.snap select {
  width: 110px;
}
.field {
  min-width: 0;
}
.field :deep(.value) {
  min-width: 52px;
}
@media (max-width: 1150px) {
  .cut-row {
    flex-wrap: wrap;
    row-gap: 2px;
  }
  .field {
    min-width: max-content;
  }
}
.say {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
