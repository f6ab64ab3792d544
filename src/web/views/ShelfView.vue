<script setup lang="ts">
/** The shelf: projects, sounds and grooves. */
import { onBeforeUnmount, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { formatSeconds } from '#core/units/time.ts';
import type { ProjectSummary, SourceSummary } from '../api/client.ts';
import { secondsOf } from '../audio/library.ts';
import EditableName from '../components/fields/EditableName.vue';
import SkylineMini from '../components/shared/SkylineMini.vue';
import DeletedList from '../components/shelf/DeletedList.vue';
import GrooveList from '../components/shelf/GrooveList.vue';
import HearButton from '../components/shelf/HearButton.vue';
import ShelfSection from '../components/shelf/ShelfSection.vue';
import { useImports } from '../stores/imports.ts';
import { useShelf } from '../stores/shelf.ts';
import { usePreview } from '../stores/preview.ts';
import { applyTheme, themeName } from '../theme/theme.ts';

const router = useRouter();
const shelf = useShelf();
const imports = useImports();
const preview = usePreview();
const picker = ref<HTMLInputElement | null>(null);

onMounted(() => void shelf.refresh());
onBeforeUnmount(() => preview.stopPreview());

async function create(): Promise<void> {
  const created = await shelf.createProject('Untitled');
  if (created) void router.push(`/bench/${created.id}`);
}

function openProject(project: ProjectSummary): void {
  void router.push(`/bench/${project.id}`);
}

/** Makes a project with this sound in it and opens it. */
async function cutIt(source: SourceSummary): Promise<void> {
  const created = await shelf.createProject(source.name);
  if (!created) return;
  await router.push(`/bench/${created.id}`);
  await imports.addWhenOpen(created.id, source.id, source.name);
}

function pickFiles(event: Event): void {
  const target = event.target as HTMLInputElement;
  void imports.importFiles([...(target.files ?? [])], false);
  target.value = '';
}

function when(time: number): string {
  return new Date(time).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });
}

function barsAndTempo({ facts }: SourceSummary): string {
  if (!facts.tempo) return '—';
  const { bars, bpm } = facts.tempo;
  return `${bars} ${bars === 1 ? 'bar' : 'bars'}`.padEnd(7) + ` ${bpm.toFixed(1)}`;
}

function rate({ sampleRate, channels }: SourceSummary): string {
  return `${sampleRate / 1000} kHz ${channels === 1 ? 'mono' : 'stereo'}`;
}
</script>

<template>
  <div class="shelf">
    <header>
      <span class="brand">yappa</span>
      <span class="quiet">cut loops into slices, keep them in time, play them from keys, deal new patterns</span>
      <button
        class="push small theme"
        title="Paper by day, dark by night"
        @click="applyTheme(themeName === 'dark' ? 'light' : 'dark')"
      >
        {{ themeName === 'dark' ? 'day' : 'night' }}
      </button>
    </header>
    <main>
      <ShelfSection title="Projects" :level="1" test-id="projects">
        <template #tools>
          <button class="push strong" data-testid="new-project" @click="create">New project</button>
        </template>
        <li v-for="project in shelf.projects" :key="project.id" class="project">
          <EditableName
            :name="project.name"
            what="project"
            @rename="shelf.renameProject(project, $event)"
            @open="openProject(project)"
          />
          <span class="mono">{{ project.tempoBpm.toFixed(1) }} bpm</span>
          <span class="quiet">{{ project.partCount }} {{ project.partCount === 1 ? 'part' : 'parts' }}</span>
          <span class="quiet">{{ when(project.updatedAt) }}</span>
          <span class="acts">
            <button class="push small" :aria-label="`Open ${project.name}`" @click="openProject(project)">open</button>
            <button
              class="push small"
              :aria-label="`Duplicate ${project.name}`"
              @click="shelf.duplicateProject(project)"
            >
              duplicate
            </button>
            <button class="push small" :aria-label="`Delete ${project.name}`" @click="shelf.removeProject(project)">
              delete
            </button>
          </span>
        </li>
        <li v-if="shelf.loaded && shelf.projects.length === 0" class="none quiet">
          No project yet: make one, or cut a sound below.
        </li>
      </ShelfSection>
      <ShelfSection title="Sounds" :level="2" test-id="sources">
        <template #tools>
          <button class="push" data-testid="import" @click="picker?.click()">Import …</button>
          <input
            ref="picker"
            type="file"
            multiple
            hidden
            accept="audio/*,.wav,.flac,.mp3,.ogg,.aif,.aiff"
            data-testid="shelf-files"
            @change="pickFiles"
          />
        </template>
        <li v-for="source in shelf.sources" :key="source.id" class="source">
          <HearButton
            :name="source.name"
            :playing="preview.previewId === source.id"
            @click="preview.preview(source.id)"
          />
          <span class="sky"><SkylineMini :levels="source.facts.skyline" /></span>
          <EditableName
            :name="source.name"
            what="sound"
            @rename="shelf.renameSource(source, $event)"
            @open="preview.preview(source.id)"
          />
          <span class="mono tempo">{{ barsAndTempo(source) }}</span>
          <span class="mono">{{ formatSeconds(secondsOf(source)) }}</span>
          <span class="quiet">{{ rate(source) }}</span>
          <span class="acts">
            <button
              class="push small"
              title="A new project with this sound"
              :aria-label="`Cut ${source.name}`"
              @click="cutIt(source)"
            >
              cut it
            </button>
            <button class="push small" :aria-label="`Delete ${source.name}`" @click="shelf.removeSource(source)">
              delete
            </button>
          </span>
        </li>
        <li v-if="shelf.loaded && shelf.sources.length === 0" class="none quiet">
          The shelf is empty. Drop sound files anywhere on this page, or use Import: WAV, FLAC, MP3, Ogg, AIFF.
        </li>
      </ShelfSection>
      <GrooveList />
      <DeletedList />
    </main>
  </div>
</template>

<style scoped>
.shelf {
  height: 100vh;
  overflow-y: auto;
  /* The page scrolls at the window's edge, however wide the window is. */
  padding: 20px max(36px, (100vw - 1168px) / 2) 60px;
  display: flex;
  flex-direction: column;
  gap: 26px;
}
header {
  display: flex;
  align-items: baseline;
  gap: 18px;
}
.brand {
  font-size: 32px;
  font-weight: 750;
  letter-spacing: -0.02em;
}
.theme {
  margin-left: auto;
}
main {
  display: grid;
  gap: 26px;
}
.project {
  grid-template-columns: minmax(0, 1fr) 100px 70px 130px 230px;
}
.source {
  grid-template-columns: 30px 130px minmax(0, 1fr) 150px 90px 120px 130px;
}
.tempo {
  white-space: pre;
}
.sky {
  height: 26px;
  border-bottom: 1px solid var(--ink);
}
.acts {
  display: flex;
  gap: 6px;
  justify-content: flex-end;
}
@media (max-width: 900px) {
  .shelf {
    padding: 16px;
  }
  .project {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .source {
    grid-template-columns: 30px 70px minmax(0, 1fr) auto;
  }
  .project > .quiet,
  .project > .mono,
  .source > .mono,
  .source > .quiet {
    display: none;
  }
}
</style>
