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
import { useCutting } from '../../stores/source/cutting.ts';
import { useNotices } from '../../stores/frame/notices.ts';
import { useMarkers } from '../../stores/source/markers.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession, type SnapTarget } from '../../stores/document/session.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import NumberField from '../fields/NumberField.vue';

type Method = CutValues['method'];
type FindParam =
  'sensitivity' | 'minGapMs' | 'gridPullPercent' | 'swingPercent' | 'count' | 'minLengthMs' | 'tapWindowMs';

const project = useProject();
const session = useSession();
const markers = useMarkers();
const cutting = useCutting();
const notices = useNotices();

const values = computed(() => cutValues(session.cut!));
const method = computed(() => cutting.method!);
const cueCount = computed(() => session.reading?.cueFrames.length ?? 0);

/** Each way in a word and in a line: where boundaries fall. */
const LOOKS: Record<Method, { word: string; path: string }> = {
  hits: { word: 'hits', path: 'M2 17V5l7 12V7l6 10V3l9 14V8l7 9z' },
  grid: { word: 'grid', path: 'M2 17h30M3 17V4M10 17v-6M17 17V4M24 17v-6M31 17V4' },
  equal: { word: 'equal', path: 'M3 5h28v12H3zM10 5v12M17 5v12M24 5v12' },
  pitch: { word: 'notes', path: 'M2 14h8V9h8v3h7V5h7' },
  taps: { word: 'taps', path: 'M4 10h1M11 10h1M20 10h1M27 10h1' },
  file: { word: 'file', path: 'M5 17V4h9v5H5M20 17V4h9v5h-9' },
};
const methods = CUT_ROWS.method.choices.map(({ value, words }) => ({ value, words, ...LOOKS[value] }));

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
const steps = CUT_STEPS.map(({ stepTicks, label }) => ({ value: stepTicks, words: label }));
const snaps: { value: SnapTarget; words: string }[] = [
  { value: 'attack', words: 'attacks' },
  { value: 'zero', words: 'zero crossings' },
  { value: 'grid', words: 'the grid' },
  { value: 'nothing', words: 'nothing' },
];

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

function chooseMethod(chosen: Method | undefined): void {
  if (!chosen || chosen === method.value) return;
  const cutId = session.cut!.id;
  if (chosen === 'taps') {
    cutting.giveUp(cutId);
    project.run('cut by tapping', clearMarkers, { cutId });
  } else if (chosen === 'file' && cueCount.value === 0) {
    notices.info('This file names no places: it has no cue points and no loop.');
  } else void cutting.apply(`cut ${methods.find(({ value }) => value === chosen)!.words}`, { method: chosen });
}
</script>

<template>
  <div class="cut-row" data-testid="cut-panel">
    <v-btn-toggle
      class="ways"
      role="group"
      aria-label="How the boundaries are found"
      data-testid="cut-method"
      :model-value="method"
      @update:model-value="chooseMethod"
    >
      <v-btn
        v-for="{ value, words, word, path } in methods"
        :key="value"
        :value="value"
        :aria-label="words"
        :data-tip="`Cut ${words}; locked and hand-made markers stay`"
      >
        <svg viewBox="0 0 34 19" :class="value" aria-hidden="true"><path :d="path" /></svg>
        <span>{{ word }}</span>
      </v-btn>
    </v-btn-toggle>
    <NumberField
      v-for="{ param, row } in fields"
      :key="param"
      class="field"
      stacked
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
    <div v-if="usesGrid" class="field">
      <span class="quiet" aria-hidden="true">step</span>
      <ChoiceField
        label="Step of the grid"
        :show-label="false"
        :model-value="values.stepTicks"
        :choices="steps"
        @put="cutting.apply('grid', { stepTicks: $event })"
      />
    </div>
    <div v-if="method === 'equal'" class="counts">
      <v-btn
        v-for="count in [8, 16, 32]"
        :key="count"
        :aria-pressed="values.count === count"
        @click="cutting.apply(`${count} parts`, { count })"
        >{{ count }}</v-btn
      >
    </div>
    <template v-if="method === 'taps'">
      <v-btn
        :aria-pressed="markers.keysTap"
        data-tip="Any letter, key or pad marks where the sound is, and plays nothing"
        @click="markers.keysTap = !markers.keysTap"
        >by any key or pad</v-btn
      >
      <span class="quiet say">
        play, and press {{ markers.keysTap ? 'one' : tip('split', 'the marker key') }} at each hit
      </span>
    </template>
    <span v-if="method === 'file'" class="quiet say">{{ cueCount }} places are named in the file</span>
    <div class="field snap">
      <span class="quiet" aria-hidden="true">snap to</span>
      <ChoiceField
        label="snap to"
        hint="What markers snap to when they are set or dropped; Alt held down leaves them where they are"
        test-id="snap-to"
        :show-label="false"
        :model-value="session.snapTo"
        :choices="snaps"
        @put="session.snapTo = $event"
      />
    </div>
  </div>
</template>

<style scoped>
.cut-row {
  display: flex;
  align-items: flex-end;
  gap: 8px;
  font-size: 13px;
  min-width: 0;
  flex: none;
}
.ways.v-btn-toggle.v-btn-group {
  height: 44px;
  gap: 0;
  flex: none;
}
.ways > .v-btn.v-btn {
  height: 44px;
  width: 48px;
  padding: 0;
  border-radius: 0;
  margin-left: -1px;
}
.ways :deep(.v-btn__content) {
  display: grid;
  justify-items: center;
  line-height: 1.2;
}
svg {
  width: 34px;
  height: 19px;
}
path {
  fill: none;
  stroke: currentcolor;
  stroke-width: 1.7;
}
svg.hits path {
  fill: currentcolor;
  stroke: none;
}
svg.taps path {
  stroke-width: 4;
  stroke-linecap: round;
}
.field {
  flex: 0 1 92px;
  min-width: 58px;
}
.field :deep(.value) {
  min-width: 0;
}
.field :deep(.label) {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
}
.field > .quiet {
  display: block;
  white-space: nowrap;
}
.snap {
  flex-basis: 118px;
  margin-left: auto;
}
.counts {
  display: flex;
  gap: 3px;
}
.say {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  align-self: center;
}
@media (max-width: 700px) {
  .cut-row {
    flex-wrap: wrap;
  }
}
</style>
