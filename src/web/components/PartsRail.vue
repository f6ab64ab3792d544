<script setup lang="ts">
/** The parts of the project, and the ways to other screens. */
import { computed, nextTick, ref, watch } from 'vue';
import { duplicatePart, movePart, removePart, setPart, type PartSettings } from '#core/project/commands/parts.ts';
import { renameProject } from '#core/project/commands/song.ts';
import { slicesOfPart } from '#core/project/cuts.ts';
import { peakBetween } from '#core/dsp/peaks.ts';
import type { Part } from '#core/project/schema.ts';
import { library } from '../audio/services.ts';
import { NIGHT_LIFT, sliceColours } from '../canvas/palette.ts';
import { themeName } from '../theme/theme.ts';
import { useImports } from '../stores/imports.ts';
import { useProject } from '../stores/project.ts';
import { useSession } from '../stores/session.ts';
import { useShelf } from '../stores/shelf.ts';
import { useTransport } from '../stores/transport.ts';
import { FOLLOW_WORDS } from './follow-words.ts';
import DocumentField from './DocumentField.vue';
import SkylineMini from './SkylineMini.vue';

const emit = defineEmits<{ bounce: []; slicesOut: [] }>();
const project = useProject();
const session = useSession();
const transport = useTransport();
const imports = useImports();
const shelf = useShelf();
const picker = ref<HTMLInputElement | null>(null);
const projectName = ref('');
const adding = ref(false);

const STRETCHES = 28;

watch(
  () => project.document?.name,
  (name) => (projectName.value = name ?? ''),
  { immediate: true },
);

const saveWords = computed(
  () =>
    ({
      saved: 'saved',
      saving: 'saving …',
      waiting: 'saving …',
      failed: 'not saved yet: trying again',
      conflict: 'changed in another window',
    })[project.saveState],
);

const parts = computed(() => {
  void transport.loadedCount;
  return project.document!.partOrder.map((id) => {
    const part = project.document!.parts[id]!;
    const placed = slicesOfPart(project.document!, part);
    const brightest = sliceColours(
      placed.map((at) => at.slice.brightnessHz),
      themeName.value === 'dark' ? NIGHT_LIFT : 0,
    );
    return {
      part,
      levels: levelsOf(part),
      colour: brightest[Math.floor(placed.length / 2)] ?? 'var(--sea)',
      count: placed.length,
    };
  });
});

function levelsOf(part: Part): number[] {
  const peaks = library.peaks.get(part.sourceId);
  if (!peaks) return [];
  return Array.from({ length: STRETCHES }, (_, i) =>
    peakBetween(peaks, (peaks.frames * i) / STRETCHES, (peaks.frames * (i + 1)) / STRETCHES),
  );
}

function duplicate(partId: string): void {
  if (!project.run('copy a part', duplicatePart, { partId })) return;
  const order = project.document!.partOrder;
  session.choosePart(order[order.indexOf(partId) + 1]!);
}

function put(partId: string, label: string, settings: PartSettings): void {
  project.run(label, setPart, { partId, settings });
}

const renaming = ref<string | null>(null);
async function startRenaming(partId: string): Promise<void> {
  renaming.value = partId;
  await nextTick();
  document.querySelector<HTMLInputElement>('.part-name')?.select();
}
function finishRenaming(event: Event): void {
  const { value } = event.target as HTMLInputElement;
  const partId = renaming.value;
  renaming.value = null;
  if (partId && value.trim()) put(partId, 'rename part', { name: value.trim() });
}

function rename(event: Event): void {
  const { value } = event.target as HTMLInputElement;
  if (!project.run('rename project', renameProject, { name: value })) projectName.value = project.document?.name ?? '';
}

function pickFiles(event: Event): void {
  const target = event.target as HTMLInputElement;
  void imports.importFiles([...(target.files ?? [])], true);
  target.value = '';
  adding.value = false;
}

async function openAdding(): Promise<void> {
  adding.value = !adding.value;
  if (adding.value && !shelf.loaded) await shelf.refresh();
}

function addFromShelf(id: string, name: string): void {
  adding.value = false;
  void imports.addSourceAsPart(id, name);
}
</script>

<template>
  <nav class="rail" aria-label="Parts">
    <RouterLink class="brand" to="/" title="To the shelf">yappa</RouterLink>
    <h1 class="unseen">{{ project.document!.name }}</h1>
    <input
      v-model="projectName"
      class="plain-input project-name"
      aria-label="Name of the project"
      maxlength="200"
      @change="rename"
      @keydown.enter="($event.target as HTMLInputElement).blur()"
      @keydown.stop
    />
    <p class="quiet state" data-testid="save-state">{{ saveWords }}</p>
    <div v-if="project.saveState === 'conflict'" class="conflict" role="alert">
      <p>This project was changed elsewhere. Both versions are kept.</p>
      <button class="push small" @click="project.keepMine()">go on with mine</button>
      <button class="push small" @click="project.takeTheirs()">take the other</button>
    </div>
    <h2 class="list-title">Parts</h2>
    <ul class="parts">
      <li
        v-for="{ part, levels, colour, count } in parts"
        :key="part.id"
        class="part"
        :class="{ on: part.id === session.partId }"
      >
        <input
          v-if="renaming === part.id"
          class="plain-input part-name"
          aria-label="Name of the part"
          maxlength="200"
          :value="part.name"
          @blur="finishRenaming"
          @keydown.enter="finishRenaming"
          @keydown.esc="renaming = null"
          @keydown.stop
        />
        <button
          class="pick"
          :title="`${part.name}: ${count} slices; double-click renames it`"
          @click="session.choosePart(part.id)"
          @dblclick="startRenaming(part.id)"
        >
          <span v-if="renaming !== part.id" class="name">{{ part.name }}</span>
          <span class="quiet">{{ FOLLOW_WORDS[part.follow] }}</span>
          <span class="sky"><SkylineMini :levels="levels" :colour="colour" /></span>
        </button>
        <div v-if="part.id === session.partId" class="channel">
          <DocumentField
            class="fader"
            label="level"
            :show-label="false"
            :model-value="part.gainDb"
            :min="-60"
            :max="12"
            :step="0.5"
            :digits="1"
            :reset="0"
            unit="dB"
            @put="put(part.id, 'level', { gainDb: $event })"
          />
          <DocumentField
            class="fader"
            label="pan"
            :show-label="false"
            hint="Left to right"
            :model-value="part.pan * 100"
            :min="-100"
            :max="100"
            :step="5"
            :reset="0"
            unit="% pan"
            @put="put(part.id, 'pan', { pan: $event / 100 })"
          />
          <button
            class="push small"
            :aria-pressed="part.muted"
            title="Mute this part"
            @click="project.run('mute', setPart, { partId: part.id, settings: { muted: !part.muted } })"
          >
            mute
          </button>
          <button
            class="push small"
            :aria-pressed="part.soloed"
            title="Hear only soloed parts"
            @click="project.run('solo', setPart, { partId: part.id, settings: { soloed: !part.soloed } })"
          >
            solo
          </button>
          <button
            class="remove quiet"
            title="Move this part up"
            aria-label="Move this part up"
            @click="project.run('move part', movePart, { partId: part.id, by: -1 })"
          >
            ↑
          </button>
          <button
            class="remove quiet"
            title="Move this part down"
            aria-label="Move this part down"
            @click="project.run('move part', movePart, { partId: part.id, by: 1 })"
          >
            ↓
          </button>
          <button
            class="remove quiet"
            title="This part once more, with its cut and patterns"
            @click="duplicate(part.id)"
          >
            copy
          </button>
          <button
            class="remove quiet"
            title="Remove this part"
            @click="project.run(`remove ${part.name}`, removePart, { partId: part.id })"
          >
            remove
          </button>
        </div>
      </li>
    </ul>
    <button class="add" title="From a file, or from the shelf; dropping files anywhere works too" @click="openAdding">
      + add a sound
    </button>
    <div v-if="adding" class="adding sheet">
      <button class="from-file" @click="picker?.click()">from a file …</button>
      <button v-for="source in shelf.sources" :key="source.id" @click="addFromShelf(source.id, source.name)">
        {{ source.name }}
      </button>
      <p v-if="shelf.loaded && shelf.sources.length === 0" class="quiet">the shelf is empty</p>
    </div>
    <input
      ref="picker"
      type="file"
      multiple
      hidden
      accept="audio/*,.wav,.flac,.mp3,.ogg,.aif,.aiff"
      data-testid="bench-files"
      @change="pickFiles"
    />
    <div class="ways">
      <RouterLink to="/">Shelf</RouterLink>
      <button :disabled="project.document!.partOrder.length === 0" @click="emit('bounce')">Bounce</button>
      <button :disabled="project.document!.partOrder.length === 0" @click="emit('slicesOut')">Slices out</button>
    </div>
  </nav>
</template>

<style scoped>
.rail {
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 14px 12px 14px 16px;
  background: var(--sheet);
  border-right: 1px solid var(--rule);
  min-height: 0;
  overflow-y: auto;
}
.brand {
  font-size: 25px;
  font-weight: 750;
  letter-spacing: -0.02em;
  color: var(--ink);
  text-decoration: none;
  line-height: 1.1;
}
.project-name {
  font-weight: 650;
  font-size: 15px;
  border-bottom-color: transparent;
  text-overflow: ellipsis;
}
.state {
  font-size: 13px;
}
.conflict {
  font-size: 13px;
  display: grid;
  gap: 4px;
  border-left: 4px solid var(--signal);
  padding-left: 8px;
}
.list-title {
  font-size: 13px;
  color: var(--ink-quiet);
  margin-top: 10px;
}
.part {
  border: 1px solid transparent;
  border-radius: 3px;
  margin: 0 -6px;
  padding: 4px 6px;
}
.part.on {
  border-color: var(--sea);
  background: var(--paper);
}
.pick {
  display: grid;
  width: 100%;
  text-align: left;
  font-size: 13px;
}
.name {
  font-weight: 620;
  font-size: 14px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.sky {
  height: 16px;
  margin-top: 3px;
}
.channel {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 6px;
  margin-top: 6px;
  align-items: center;
}
.part-name {
  width: 100%;
  font-weight: 600;
}
.fader {
  flex: 1 0 60px;
}
.remove {
  font-size: 13px;
  text-align: left;
  text-decoration: underline;
}
.add {
  color: var(--sea);
  font-weight: 600;
  text-align: left;
  margin-top: 4px;
}
.adding {
  display: grid;
  max-height: 220px;
  overflow-y: auto;
  padding: 4px;
}
.adding button {
  text-align: left;
  padding: 3px 6px;
  font-size: 13px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.adding button:hover {
  background: var(--sea-wash);
}
.from-file {
  font-weight: 600;
}
.ways {
  margin-top: auto;
  padding-top: 14px;
  display: grid;
  gap: 6px;
  justify-items: start;
  font-weight: 620;
}
.ways a {
  color: var(--ink);
  text-decoration: none;
}
.ways a:hover,
.ways button:hover:not(:disabled) {
  color: var(--sea);
}
.ways button {
  font-weight: 620;
}
</style>
