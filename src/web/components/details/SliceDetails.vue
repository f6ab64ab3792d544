<script setup lang="ts">
/** The selected slices: where they lie and how they sound; one change sets all of them. */
import { computed, ref } from 'vue';
import { moveMarker, removeSlices } from '#core/project/commands/cut.ts';
import { nameSlices, setSliceRole, setSliceSound } from '#core/project/commands/slices.ts';
import { ROLES, type Role } from '#core/analysis/roles.ts';
import { peakBetween } from '#core/dsp/peaks.ts';
import { keyOfSlice } from '#core/project/cuts.ts';
import type { Slice, SliceSound } from '#core/project/schema.ts';
import { gainToDb } from '#core/units/level.ts';
import { noteName } from '#core/units/pitch.ts';
import { tip } from '../../input/shortcuts.ts';
import { useEditing } from '../../stores/editing.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import { useTransport } from '../../stores/transport.ts';
import { useNotices } from '../../stores/notices.ts';
import { ALIKE_WITHIN } from '#core/analysis/likeness.ts';
import { setSliceEnds } from '#core/project/commands/slices.ts';
import { loopLengthTicks } from '#core/patterns/home.ts';
import { formatBarsBeats } from '#core/units/time.ts';
import { library } from '../../audio/services.ts';
import DetailRows from '../fields/DetailRows.vue';
import DocumentField from '../fields/DocumentField.vue';
import SkylineMini from '../shared/SkylineMini.vue';

const project = useProject();
const session = useSession();
const editing = useEditing();
const transport = useTransport();
const notices = useNotices();
const nudgeUnit = ref<'sample' | 'ms' | '64th'>('ms');

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
  if (midi === null) return 'none';
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

function setEnd(endFrame: number): void {
  project.run('end of the slice', setSliceEnds, {
    partId: session.part!.id,
    ends: { [first.value.slice.id]: endFrame },
  });
}

const lengthMs = computed(() => ((first.value.endFrame - first.value.startFrame) / rate.value) * 1000);
/** Ticks in one frame of the loop, at its own tempo. */
const ticksPerFrame = computed(() => {
  const { loop } = session.part!;
  return loopLengthTicks(loop) / (loop.endFrame - loop.startFrame);
});
const lengthBars = computed(() => {
  const ticks = (first.value.endFrame - first.value.startFrame) * ticksPerFrame.value;
  const [bar, beat, rest] = formatBarsBeats(ticks, session.part!.loop.beatsPerBar).split('.') as [
    string,
    string,
    string,
  ];
  return `${Number(bar) - 1}.${Number(beat) - 1}.${rest}`;
});

function nudge(side: 'start' | 'end', direction: 1 | -1): void {
  const frames = { sample: 1, ms: Math.round(rate.value / 1000), '64th': Math.round(60 / ticksPerFrame.value) }[
    nudgeUnit.value
  ];
  if (side === 'start') setStart(first.value.startFrame + direction * frames);
  else setEnd(first.value.endFrame + direction * frames);
}

function setRole(event: Event): void {
  const role = (event.target as HTMLSelectElement).value as Role;
  project.run('role', setSliceRole, { partId: session.part!.id, sliceIds: session.sliceIds, role });
  if (single.value) void offerRoleToAlike(role);
}

/** One role put right: its look-alikes are offered the same. */
async function offerRoleToAlike(role: Role): Promise<void> {
  const part = session.part!;
  const { placed } = session;
  const from = first.value.index;
  const rows = await library
    .likeness(
      part.sourceId,
      placed.map(({ startFrame, endFrame }) => ({ startFrame, endFrame })),
    )
    .catch(() => []);
  const alike = placed.filter(
    (at) => at.index !== from && at.slice.role !== role && (rows[from]?.[at.index] ?? 1) < ALIKE_WITHIN,
  );
  if (alike.length === 0) return;
  const sliceIds = alike.map((at) => at.slice.id);
  notices.info(`${alike.length} more ${alike.length === 1 ? 'slice sounds' : 'slices sound'} like it.`, {
    label: `Make ${alike.length === 1 ? 'it' : 'them'} ${role}, too`,
    run: () => project.run('role', setSliceRole, { partId: part.id, sliceIds, role }),
  });
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
        :aria-pressed="chosen.every((at) => at.slice.endFrame !== null)"
        title="An end of its own, or up to the next marker"
        @click="editing.ownEnds(!chosen.every((at) => at.slice.endFrame !== null))"
      >
        own end
      </button>
      <button class="push small" title="Leave the silence around the sound out" @click="editing.trimSelected()">
        trim silence
      </button>
      <button
        class="push small"
        :aria-pressed="transport.previewId === session.part!.sourceId"
        :title="tip('loop-slice')"
        @click="editing.loopSelected()"
      >
        loop it
      </button>
      <button v-if="!single" class="push small" :title="tip('merge')" @click="editing.mergeSelected()">
        join them
      </button>
      <button
        class="push small"
        title="Remove the marker: the slice is joined to the one before"
        @click="project.run('remove slices', removeSlices, { partId: session.part!.id, sliceIds: session.sliceIds })"
      >
        join to the one before
      </button>
    </div>
    <template v-if="single">
      <DocumentField
        label="start"
        :model-value="first.startFrame"
        :min="0"
        :max="session.loaded ? session.loaded.channels[0]!.length - 1 : first.startFrame"
        :step="1"
        unit="frames"
        :disabled="first.slice.locked"
        undo="move slice"
        @put="setStart"
      />
      <DocumentField
        label="end"
        hint="An end of its own may lie beyond the next marker: slices overlap then"
        :model-value="first.endFrame"
        :min="first.startFrame + 16"
        :max="session.loaded ? session.loaded.channels[0]!.length : first.endFrame"
        :step="1"
        unit="frames"
        :disabled="first.slice.locked"
        undo="end of the slice"
        @put="setEnd"
      />
      <div class="nudge">
        <select v-model="nudgeUnit" class="plain-select" aria-label="Nudge by" title="How far the arrows move an end">
          <option value="sample">1 sample</option>
          <option value="ms">1 ms</option>
          <option value="64th">1/64</option>
        </select>
        <span v-for="side in ['start', 'end'] as const" :key="side" class="pair">
          <button
            class="push small"
            :title="`${side} earlier`"
            :aria-label="`${side} earlier`"
            @click="nudge(side, -1)"
          >
            ‹
          </button>
          <span class="quiet">{{ side }}</span>
          <button class="push small" :title="`${side} later`" :aria-label="`${side} later`" @click="nudge(side, 1)">
            ›
          </button>
        </span>
      </div>
      <div class="row">
        <span>length</span>
        <span class="mono">{{ lengthMs.toFixed(1) }} ms</span>
      </div>
      <div class="row">
        <span>in bars</span><span class="mono">{{ lengthBars }}</span>
      </div>
      <div class="row">
        <span>peak</span><span class="mono">{{ peakDb === -Infinity ? 'silent' : `${peakDb.toFixed(1)} dB` }}</span>
      </div>
      <div class="row">
        <span>brightness</span><span class="mono">{{ Math.round(first.slice.brightnessHz) }} Hz</span>
      </div>
      <div class="row">
        <span>note</span><span class="mono">{{ note }}</span>
      </div>
      <div class="row">
        <span>key</span><span class="mono">{{ key === null ? 'none' : noteName(key) }}</span>
      </div>
    </template>
    <DocumentField
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
      @put="put(field.label, { [field.name]: $event / field.scale })"
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
.nudge {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
}
.pair {
  display: flex;
  gap: 3px;
  align-items: center;
  font-size: 13px;
}
.nudge select {
  width: 62px;
}
.pair button {
  padding: 0 5px;
}
</style>
