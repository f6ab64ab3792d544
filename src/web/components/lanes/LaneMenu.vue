<script setup lang="ts">
/** What may be done to a whole lane: its length, shapes, changes, the same for another setting. */
import { computed, ref } from 'vue';
import { LANE_SHAPES, type LaneShape } from '#core/lanes/changes.ts';
import { NOTE_RATES } from '#core/params/modulators.ts';
import type { Lane } from '#core/queries/lanes.ts';
import type { Movable } from '#core/queries/targets.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import { useLanes } from '../../stores/sound/lanes.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import SettingPicker from '../fields/SettingPicker.vue';
import IconButton from '../shared/IconButton.vue';

defineOptions({ inheritAttrs: false });
const { lane, whole } = defineProps<{
  lane: Lane;
  gridTicks: number;
  /** How long it is by itself, in words. */
  whole: string;
  /** What may have a lane like it. */
  free: readonly Movable[];
}>();
const lanes = useLanes();
const note = ref('1/4');
const isOpen = ref(false);

const SHAPE_WORDS: Readonly<Record<LaneShape, string>> = {
  up: 'up',
  down: 'down',
  hill: 'hill',
  valley: 'valley',
  wave: 'wave',
  pulse: 'pulse',
  steps: 'steps down',
};
const CHANGES: readonly { change: keyof typeof lanes.change; words: string }[] = [
  { change: 'flatter', words: 'flatter' },
  { change: 'steeper', words: 'steeper' },
  { change: 'higher', words: 'higher' },
  { change: 'lower', words: 'lower' },
  { change: 'upsideDown', words: 'upside down' },
  { change: 'backwards', words: 'backwards' },
  { change: 'thinOut', words: 'thin out' },
  { change: 'clear', words: 'clear' },
];
const notes = NOTE_RATES.map(({ value, words }) => ({ value, words }));
const ticksOf = (value: string) => NOTE_RATES.find((one) => one.value === value)!.quarters * TICKS_PER_BEAT;

/** Its own length is a note value; or that of what it lies over. */
const WHOLE = 'whole';
const lengths = computed(() => {
  const { lengthTicks } = lane;
  const known = lengthTicks === undefined || notes.some(({ value }) => ticksOf(value) === lengthTicks);
  return [
    { value: WHOLE, words: whole },
    ...notes,
    ...(known ? [] : [{ value: 'own', words: `${(lengthTicks! / TICKS_PER_BEAT).toFixed(2)} beats` }]),
  ];
});
const length = computed(() => {
  if (lane.lengthTicks === undefined) return WHOLE;
  return notes.find(({ value }) => ticksOf(value) === lane.lengthTicks)?.value ?? 'own';
});

function setLength(value: string): void {
  if (value !== 'own') lanes.setLength(lane, value === WHOLE ? null : ticksOf(value));
}
</script>

<template>
  <v-menu v-model="isOpen" :close-on-content-click="false">
    <template #activator="{ props: menu }">
      <IconButton v-bind="{ ...menu, ...$attrs }" icon="more" words="More for this lane" variant="text" />
    </template>
    <v-sheet class="menu">
      <ChoiceField label="length" :model-value="length" :choices="lengths" @put="setLength" />
      <ChoiceField label="a shape each" :model-value="note" :choices="notes" @put="note = $event" />
      <div class="buttons">
        <v-btn v-for="shape in LANE_SHAPES" :key="shape" @click="lanes.shape(lane, shape, ticksOf(note))">{{
          SHAPE_WORDS[shape]
        }}</v-btn>
      </div>
      <div class="buttons">
        <v-btn v-for="{ change, words } in CHANGES" :key="change" @click="lanes.change[change](lane)">{{
          words
        }}</v-btn>
        <v-btn data-tip="By a step of the grid" @click="lanes.shiftBy(lane, -gridTicks)">earlier</v-btn>
        <v-btn data-tip="By a step of the grid" @click="lanes.shiftBy(lane, gridTicks)">later</v-btn>
      </div>
      <div class="buttons">
        <SettingPicker :settings="free" words="the same for …" @pick="lanes.copyTo(lane, $event)" />
        <v-btn @click="lanes.remove(lane)">remove</v-btn>
      </div>
    </v-sheet>
  </v-menu>
</template>

<style scoped>
.menu {
  display: grid;
  gap: 8px;
  width: 300px;
  padding: 12px;
}
.menu :deep(.choice) {
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
  align-items: center;
  gap: 6px;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
</style>
