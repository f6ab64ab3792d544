<script setup lang="ts">
/** The selected slices: where they lie and how they sound; one change sets all of them. */
import { computed } from 'vue';
import { moveMarker, nameSlices, removeSlices, setSliceRole, setSliceSound } from '#core/project/commands/cut.ts';
import { ROLES, type Role } from '#core/analysis/roles.ts';
import { peakBetween } from '#core/dsp/peaks.ts';
import { keyOfSlice } from '#core/project/cuts.ts';
import type { Slice, SliceSound } from '#core/project/schema.ts';
import { gainToDb } from '#core/units/level.ts';
import { noteName } from '#core/units/pitch.ts';
import { tip } from '../input/shortcuts.ts';
import { useEditing } from '../stores/editing.ts';
import { useProject } from '../stores/project.ts';
import { useSession } from '../stores/session.ts';
import DetailRows from './DetailRows.vue';
import NumberField from './NumberField.vue';
import SkylineMini from './SkylineMini.vue';

const project = useProject();
const session = useSession();
const editing = useEditing();

const chosen = computed(() => session.selectedSlices);
const first = computed(() => chosen.value[0]!);
const sound = computed(() => first.value.slice.sound);
const single = computed(() => chosen.value.length === 1);
const rate = computed(() => session.loaded?.sampleRate ?? 44100);
const key = computed(() => keyOfSlice(session.part!, first.value.index));
const title = computed(() => (single.value ? `Slice ${first.value.index + 1}` : `${chosen.value.length} slices`));
const levels = computed(() => {
  const peaks = session.loaded?.peaks;
  if (!peaks) return [];
  const { startFrame, endFrame } = first.value;
  const each = (endFrame - startFrame) / 60;
  return Array.from({ length: 60 }, (_, i) => peakBetween(peaks, startFrame + i * each, startFrame + (i + 1) * each));
});
const peakDb = computed(() => {
  const peaks = session.loaded?.peaks;
  return peaks ? gainToDb(peakBetween(peaks, first.value.startFrame, first.value.endFrame)) : -Infinity;
});
const note = computed(() => {
  const { midi, cents } = first.value.slice;
  if (midi === null) return 'no steady pitch';
  const away = Math.round(cents ?? 0);
  return `${noteName(midi)} ${away >= 0 ? '+' : '−'}${Math.abs(away)} ct`;
});

function differs(read: (slice: Slice) => unknown): boolean {
  return chosen.value.some((at) => read(at.slice) !== read(first.value.slice));
}

function put(label: string, change: Partial<SliceSound>): void {
  project.run(label, setSliceSound, { partId: session.part!.id, sliceIds: session.sliceIds, sound: change });
}

interface SoundField {
  name: keyof SliceSound & ('gainDb' | 'tuneCents' | 'pan' | 'attackMs' | 'decayMs' | 'sustain' | 'releaseMs');
  label: string;
  min: number;
  max: number;
  step: number;
  digits: number;
  unit: string;
  reset: number;
  /** Shown number = stored number times this. */
  scale: number;
}

const fields: SoundField[] = [
  { name: 'gainDb', label: 'level', min: -60, max: 12, step: 0.5, digits: 1, unit: 'dB', reset: 0, scale: 1 },
  { name: 'tuneCents', label: 'tune', min: -48, max: 48, step: 1, digits: 2, unit: 'st', reset: 0, scale: 0.01 },
  { name: 'pan', label: 'pan', min: -100, max: 100, step: 5, digits: 0, unit: '%', reset: 0, scale: 100 },
  { name: 'attackMs', label: 'attack', min: 0, max: 2000, step: 1, digits: 1, unit: 'ms', reset: 0, scale: 1 },
  { name: 'decayMs', label: 'decay', min: 0, max: 10000, step: 10, digits: 0, unit: 'ms', reset: 0, scale: 1 },
  { name: 'sustain', label: 'sustain', min: 0, max: 100, step: 5, digits: 0, unit: '%', reset: 100, scale: 100 },
  { name: 'releaseMs', label: 'release', min: 1, max: 5000, step: 5, digits: 0, unit: 'ms', reset: 5, scale: 1 },
];

function setStart(startFrame: number): void {
  project.run('move slice', moveMarker, { partId: session.part!.id, sliceId: first.value.slice.id, startFrame });
}

function setRole(event: Event): void {
  const role = (event.target as HTMLSelectElement).value as Role;
  project.run('role', setSliceRole, { partId: session.part!.id, sliceIds: session.sliceIds, role });
}

function setName(event: Event): void {
  const { value } = event.target as HTMLInputElement;
  project.run('name', nameSlices, { partId: session.part!.id, sliceIds: session.sliceIds, name: value });
}
</script>

<template>
  <DetailRows :title="title" :note="single ? first.label : ''">
    <div v-if="single" class="picture"><SkylineMini :levels="levels" :colour="session.colours[first.index]" /></div>
    <label class="row">
      <span>name</span>
      <input
        class="plain-input"
        :value="differs((s) => s.name) ? '' : first.slice.name"
        :placeholder="single ? first.label : 'one name for all, numbered'"
        maxlength="200"
        @change="setName"
        @keydown.stop
      />
    </label>
    <label class="row">
      <span>role</span>
      <select
        class="plain-select"
        :value="differs((s) => s.role) ? '' : first.slice.role"
        data-testid="slice-role"
        @change="setRole"
      >
        <option value="" disabled>mixed</option>
        <option v-for="role in ROLES" :key="role" :value="role">{{ role }}</option>
      </select>
    </label>
    <template v-if="single">
      <NumberField
        label="start"
        :model-value="first.startFrame"
        :min="0"
        :max="session.loaded ? session.loaded.channels[0]!.length - 1 : first.startFrame"
        :step="1"
        unit="frames"
        :disabled="first.slice.locked"
        @begin="project.begin('move slice')"
        @update:model-value="setStart"
        @commit="project.commit()"
        @cancel="project.cancel()"
      />
      <div class="row">
        <span>length</span>
        <span class="mono">{{ (((first.endFrame - first.startFrame) / rate) * 1000).toFixed(1) }} ms</span>
      </div>
      <div class="row">
        <span>peak</span><span class="mono">{{ peakDb === -Infinity ? 'silent' : `${peakDb.toFixed(1)} dB` }}</span>
      </div>
      <div class="row">
        <span>note</span><span class="mono">{{ note }}</span>
      </div>
      <div class="row">
        <span>key</span><span class="mono">{{ key === null ? 'none' : noteName(key) }}</span>
      </div>
    </template>
    <NumberField
      v-for="field in fields"
      :key="field.name"
      :label="field.label"
      :model-value="sound[field.name] * field.scale"
      :mixed="differs((s) => s.sound[field.name])"
      :min="field.min"
      :max="field.max"
      :step="field.step"
      :digits="field.digits"
      :unit="field.unit"
      :reset="field.reset"
      @begin="project.begin(field.label)"
      @update:model-value="put(field.label, { [field.name]: $event / field.scale })"
      @commit="project.commit()"
      @cancel="project.cancel()"
    />
    <label class="row">
      <span>play</span>
      <select
        class="plain-select"
        :value="differs((s) => s.sound.play) ? '' : sound.play"
        @change="put('play', { play: ($event.target as HTMLSelectElement).value as SliceSound['play'] })"
      >
        <option value="" disabled>mixed</option>
        <option value="whole">whole</option>
        <option value="held">while held</option>
      </select>
    </label>
    <div class="buttons">
      <button
        class="push small"
        :aria-pressed="chosen.every((at) => at.slice.sound.reverse)"
        title="Play these slices backwards wherever they play"
        @click="put('reverse slices', { reverse: !chosen.every((at) => at.slice.sound.reverse) })"
      >
        backwards
      </button>
      <button
        class="push small"
        :aria-pressed="chosen.every((at) => at.slice.locked)"
        :title="tip('lock', 'Locked slices stay when hits are found again')"
        @click="editing.lockSelected()"
      >
        lock
      </button>
      <button
        class="push small"
        title="Remove the marker: the slice is joined to the one before"
        @click="project.run('remove slices', removeSlices, { partId: session.part!.id, sliceIds: session.sliceIds })"
      >
        join to the one before
      </button>
    </div>
  </DetailRows>
</template>

<style scoped>
.picture {
  height: 62px;
  border-bottom: 1px solid var(--ink);
  margin-bottom: 4px;
}
.plain-input {
  width: 100%;
}
</style>
