<script setup lang="ts">
/** The selected slices: where they lie and how they sound; one change sets all of them. */
import { computed, ref } from 'vue';
import { moveMarker, removeSlices } from '#core/project/commands/cut.ts';
import { nameSlices, setSliceRole } from '#core/project/commands/slices.ts';
import { setValue } from '#core/project/commands/values.ts';
import { ROLES, type Role } from '#core/analysis/roles.ts';
import { peakBetween } from '#core/dsp/peaks.ts';
import type { Slice } from '#core/project/schema.ts';
import { songValues, zoneValues } from '#core/queries/values.ts';
import { gainToDb } from '#core/units/level.ts';
import { noteName } from '#core/units/pitch.ts';
import { tip } from '../../input/shortcuts.ts';
import { useEditing } from '../../stores/editing.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import { usePreview } from '../../stores/preview.ts';
import { useNotices } from '../../stores/notices.ts';
import { ALIKE_WITHIN } from '#core/analysis/likeness.ts';
import { setSliceEnds } from '#core/project/commands/slices.ts';
import { loopLengthTicks } from '#core/queries/loops.ts';
import { formatBarsBeats, framesPerTick } from '#core/units/time.ts';
import { library } from '../../audio/services.ts';
import DetailRows from '../fields/DetailRows.vue';
import DocumentField from '../fields/DocumentField.vue';
import ParamField from '../fields/ParamField.vue';
import SkylineMini from '../shared/SkylineMini.vue';

const project = useProject();
const session = useSession();
const editing = useEditing();
const preview = usePreview();
const notices = useNotices();
const nudgeUnit = ref<'sample' | 'ms' | '64th'>('ms');

const chosen = computed(() => session.selectedSlices);
const first = computed(() => chosen.value[0]!);
const owners = computed(() => editing.selectedZones());
const zones = computed(() => chosen.value.flatMap(({ slice }) => session.zoneBySlice.get(slice.id)?.zone ?? []));
const isReversed = computed(() => zones.value.every((zone) => zoneValues(zone).reverse));
const single = computed(() => chosen.value.length === 1);
const rate = computed(() => session.loaded?.sampleRate ?? 44100);
const key = computed(() => session.zoneBySlice.get(first.value.slice.id)?.keys?.low ?? null);
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

/** The settings of a slice's zone that are shown as numbers. */
const PARAMS = ['gainDb', 'tuneCents', 'pan', 'attackMs', 'decayMs', 'sustain', 'releaseMs'] as const;

function setStart(startFrame: number): void {
  project.run('move slice', moveMarker, { cutId: session.cut!.id, sliceId: first.value.slice.id, startFrame });
}

function setEnd(endFrame: number): void {
  project.run('end of the slice', setSliceEnds, {
    cutId: session.cut!.id,
    ends: { [first.value.slice.id]: endFrame },
  });
}

const lengthMs = computed(() => ((first.value.endFrame - first.value.startFrame) / rate.value) * 1000);
/** Ticks in one frame of the loop, at its own tempo. */
const ticksPerFrame = computed(() => {
  const { loop } = session.cut!;
  if (loop) return loopLengthTicks(loop) / (loop.endFrame - loop.startFrame);
  return 1 / framesPerTick(songValues(project.document!).tempoBpm, rate.value);
});
const lengthBars = computed(() => {
  const ticks = (first.value.endFrame - first.value.startFrame) * ticksPerFrame.value;
  const [bar, beat, rest] = formatBarsBeats(
    ticks,
    session.cut!.loop?.beatsPerBar ?? songValues(project.document!).beatsPerBar,
  ).split('.') as [string, string, string];
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
  project.run('role', setSliceRole, { cutId: session.cut!.id, sliceIds: session.sliceIds, role });
  if (single.value) void offerRoleToAlike(role);
}

/** One role put right: its look-alikes are offered the same. */
async function offerRoleToAlike(role: Role): Promise<void> {
  const cut = session.cut!;
  const { placed } = session;
  const from = first.value.index;
  const rows = await library
    .likeness(
      cut.sourceId,
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
    run: () => project.run('role', setSliceRole, { cutId: cut.id, sliceIds, role }),
  });
}

function setName(event: Event): void {
  const { value } = event.target as HTMLInputElement;
  project.run('name', nameSlices, { cutId: session.cut!.id, sliceIds: session.sliceIds, name: value });
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
        :aria-pressed="isReversed"
        title="Play these slices backwards wherever they play"
        @click="project.run('reverse slices', setValue, { owners, param: 'reverse', change: { to: !isReversed } })"
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
        :aria-pressed="preview.previewId === session.cut!.sourceId"
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
        @click="project.run('remove slices', removeSlices, { cutId: session.cut!.id, sliceIds: session.sliceIds })"
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
    <ParamField v-for="param in PARAMS" :key="param" :owners="owners" :param="param" />
    <ParamField :owners="owners" param="answer" />
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
