<script setup lang="ts">
/** The ways to find the boundaries, each with its few settings; what a setting would give is shown while it moves. */
import { computed } from 'vue';
import type { NumberRow } from '#core/params/row.ts';
import { CUT_ROWS, type CutValues } from '#core/params/tables.ts';
import { CUT_STEPS } from '#core/patterns/grid.ts';
import { clearMarkers } from '#core/project/commands/cut.ts';
import { setValue } from '#core/project/commands/values.ts';
import { cutValues } from '#core/queries/values.ts';
import { tip } from '../../input/shortcuts.ts';
import { useCutting } from '../../stores/cutting.ts';
import { useNotices } from '../../stores/notices.ts';
import { useProject } from '../../stores/project.ts';
import { useSession, type SnapTarget } from '../../stores/session.ts';
import NumberField from '../fields/NumberField.vue';

type Method = CutValues['method'];
type FindParam =
  'sensitivity' | 'minGapMs' | 'gridPullPercent' | 'swingPercent' | 'count' | 'minLengthMs' | 'tapWindowMs';

const project = useProject();
const session = useSession();
const cutting = useCutting();
const notices = useNotices();

const values = computed(() => cutValues(session.cut!));
const method = computed(() => values.value.method);
const cueCount = computed(() => session.reading?.cueFrames.length ?? 0);
const methods = CUT_ROWS.method.choices;

/** The settings that each way to cut has; their words and ranges are those of the table. */
const PARAMS: Record<Method, readonly FindParam[]> = {
  hits: ['sensitivity', 'minGapMs', 'gridPullPercent'],
  grid: ['swingPercent'],
  equal: ['count'],
  pitch: ['minLengthMs'],
  taps: ['tapWindowMs'],
  file: [],
};
const fields = computed(() => PARAMS[method.value].map((param) => ({ param, row: CUT_ROWS[param] as NumberRow })));
const usesGrid = computed(() => method.value === 'grid' || (method.value === 'hits' && shown('gridPullPercent') > 0));

function shown(param: FindParam): number {
  return cutting.draft?.[param] ?? values.value[param];
}

function draftField(param: FindParam, value: number): void {
  void cutting.show({ [param]: value / CUT_ROWS[param].scale });
}

function applyField(param: FindParam): void {
  const value = cutting.draft?.[param];
  if (value === undefined) return;
  if (method.value !== 'taps') {
    void cutting.apply(CUT_ROWS[param].label, { [param]: value, method: method.value });
    return;
  }
  // How taps are taken is a setting for the next tap: nothing is found anew.
  const owners = [{ kind: 'cut' as const, id: session.cut!.id }];
  project.run(CUT_ROWS[param].label, setValue, { owners, param, change: { to: value } });
  cutting.forget();
}

function chooseMethod(event: Event): void {
  const chosen = (event.target as HTMLSelectElement).value as Method;
  if (chosen === 'taps') project.run('cut by tapping', clearMarkers, { cutId: session.cut!.id });
  else if (chosen === 'file' && cueCount.value === 0) {
    notices.info('This file names no places: it has no cue points and no loop.');
    (event.target as HTMLSelectElement).value = method.value;
  } else void cutting.apply(`cut ${methods.find(({ value }) => value === chosen)!.words}`, { method: chosen });
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
        <option v-for="{ value, words } in methods" :key="value" :value="value">{{ words }}</option>
      </select>
    </label>
    <NumberField
      v-for="{ param, row } in fields"
      :key="param"
      class="field"
      :label="row.label"
      :hint="row.hint"
      :model-value="shown(param) * row.scale"
      :min="row.min * row.scale"
      :max="row.max * row.scale"
      :step="row.step"
      :unit="row.unit"
      :reset="row.default * row.scale"
      @update:model-value="draftField(param, $event)"
      @commit="applyField(param)"
      @cancel="cutting.forget()"
    />
    <select
      v-if="usesGrid"
      class="plain-select"
      :value="values.stepTicks"
      aria-label="Step of the grid"
      title="Step of the grid"
      @change="cutting.apply('grid', { stepTicks: Number(($event.target as HTMLSelectElement).value) })"
    >
      <option v-for="step in CUT_STEPS" :key="step.label" :value="step.stepTicks">{{ step.label }}</option>
    </select>
    <template v-if="method === 'equal'">
      <button
        v-for="count in [8, 16, 32]"
        :key="count"
        class="push small"
        :aria-pressed="values.count === count"
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
