<script setup lang="ts">
/** The shelf: projects, sounds and grooves. */
import { useFileDialog } from '@vueuse/core';
import { computed, defineAsyncComponent, onBeforeUnmount, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import type { SourceSummary } from '../api/client.ts';
import IconButton from '../components/shared/IconButton.vue';
import InTurn from '../components/shared/InTurn.vue';
import PlaceFrame from '../components/frame/PlaceFrame.vue';
import ListeningStrip from '../components/shelf/ListeningStrip.vue';
import ProjectCards from '../components/shelf/ProjectCards.vue';
import SoundDetails from '../components/shelf/SoundDetails.vue';
import SoundTable from '../components/shelf/SoundTable.vue';
import { countWords } from '../components/shelf/shelf-words.ts';
import { fits, wishesOf } from '#core/shelf/search.ts';
import { useActions } from '../stores/frame/actions.ts';
import { useGrooves } from '../stores/pattern/grooves.ts';
import { soundsAmong } from '../stores/shelf/folders.ts';
import { AUDIO_FILES, useImports } from '../stores/shelf/imports.ts';
import { useKits } from '../stores/keys/kits.ts';
import { useListening } from '../stores/shelf/listening.ts';
import { useNotices } from '../stores/frame/notices.ts';
import { whenBack } from '../stores/frame/when-back.ts';
import { usePreview } from '../stores/sound/preview.ts';
import { useProject } from '../stores/document/project.ts';
import { useShelf } from '../stores/shelf/shelf.ts';
import { ICONS } from '../theme/icons.ts';

// The rooms that are not shown at first.
const BreaksSheet = defineAsyncComponent(() => import('../components/shelf/BreaksSheet.vue'));
const ChainList = defineAsyncComponent(() => import('../components/shelf/ChainList.vue'));
const DeletedList = defineAsyncComponent(() => import('../components/shelf/DeletedList.vue'));
const GrooveList = defineAsyncComponent(() => import('../components/shelf/GrooveList.vue'));
const KitList = defineAsyncComponent(() => import('../components/shelf/KitList.vue'));
const ProjectTable = defineAsyncComponent(() => import('../components/shelf/ProjectTable.vue'));

type Room = 'all' | 'projects' | 'sounds' | 'kits' | 'chains' | 'grooves' | 'deleted';
/** Cards in the first room; all of them stand in the room of projects. */
const MOST_CARDS = 3;

const router = useRouter();
const shelf = useShelf();
const imports = useImports();
const listening = useListening();
const notices = useNotices();
const preview = usePreview();
const project = useProject();
const grooves = useGrooves();
const kits = useKits();
const room = ref<Room>('all');
const wanted = ref('');
const chosenIds = ref<string[]>([]);
const chosenTags = ref<string[]>([]);

const { open: pickFiles, onChange } = useFileDialog({ accept: AUDIO_FILES, multiple: true, reset: true });
onChange((files) => void imports.importFiles([...(files ?? [])], false));
const folder = useFileDialog({ directory: true, reset: true });
folder.onChange((files) => void imports.importFiles(soundsAmong([...(files ?? [])]), false));
onMounted(() => {
  void shelf.refresh().then(() => (listening.cursorId ??= shelf.sources[0]?.id ?? null));
  if (!grooves.loaded) void grooves.refresh();
  if (!kits.loaded) void kits.refresh();
});
whenBack(() => Promise.all([shelf.refreshProjects(), shelf.refreshSources()]));
onBeforeUnmount(() => preview.stopPreview());

const deletedCount = computed(() => shelf.deleted.projects.length + shelf.deleted.sources.length);
const rooms = computed(() => [
  { value: 'all' as const, words: 'all', count: null },
  { value: 'projects' as const, words: 'projects', count: shelf.projects.length },
  { value: 'sounds' as const, words: 'sounds', count: shelf.sources.length },
  { value: 'kits' as const, words: 'kits', count: kits.list.length },
  { value: 'chains' as const, words: 'chains', count: null },
  { value: 'grooves' as const, words: 'grooves', count: grooves.list.length },
  ...(deletedCount.value > 0 || room.value === 'deleted'
    ? [{ value: 'deleted' as const, words: 'deleted', count: deletedCount.value }]
    : []),
]);
const matches = (words: string) => {
  const text = words.toLowerCase();
  return wanted.value
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .every((one) => text.includes(one));
};
const projects = computed(() =>
  shelf.projects.filter(({ name, tempoBpm }) => matches(`${name} ${tempoBpm.toFixed(1)}`)),
);
const tagCounts = computed(() => {
  const counts = new Map<string, number>();
  for (const { tags } of shelf.sources) for (const tag of tags) counts.set(tag, (counts.get(tag) ?? 0) + 1);
  return [...counts].sort(([a], [b]) => a.localeCompare(b));
});
const onlyUnused = ref(false);
const unusedCount = computed(() => shelf.sources.filter(({ isUsed }) => !isUsed).length);
const sounds = computed(() => {
  const wishes = wishesOf(wanted.value);
  return shelf.sources.filter(
    (source) =>
      chosenTags.value.every((tag) => source.tags.includes(tag)) &&
      !(onlyUnused.value && source.isUsed) &&
      fits(source, wishes),
  );
});
const chosen = computed(() => sounds.value.filter(({ id }) => chosenIds.value.includes(id)));
const cursor = computed(() => listening.source ?? null);
const showsSounds = computed(() => room.value === 'all' || room.value === 'sounds');

async function create(): Promise<void> {
  const created = await shelf.createProject();
  if (created) void router.push(`/bench/${created.id}`);
}

/** Cuts a sound as a part of the open project, or in a project of its own. */
async function cut(source: SourceSummary, asProject = !project.document): Promise<void> {
  preview.stopPreview();
  if (!asProject) {
    await router.push(`/bench/${project.document!.id}`);
    await imports.addWhenOpen(project.document!.id, source.id, source.name);
    return;
  }
  const created = await shelf.createProject(source.name);
  if (!created) return;
  await router.push(`/bench/${created.id}`);
  await imports.addWhenOpen(created.id, source.id, source.name);
}

function removeChosen(): void {
  if (chosen.value.length > 0) void shelf.removeSources(chosen.value);
  else if (cursor.value) void shelf.removeSource(cursor.value);
  else notices.info('Choose a sound first.');
  chosenIds.value = [];
}

useActions().offer({
  'add-sound': () => pickFiles(),
  remove: removeChosen,
  'select-all': () => (chosenIds.value = sounds.value.map(({ id }) => id)),
  'select-none': () => (chosenIds.value = []),
});
</script>

<template>
  <PlaceFrame title="Shelf" details-label="The sound">
    <template #facts>
      <div class="bar">
        <v-text-field
          v-model="wanted"
          class="search"
          :prepend-inner-icon="ICONS.search"
          placeholder="name, tag, 2 bars …"
          aria-label="Search the shelf"
          data-tip="Parts of names and tags; a tempo within 3 %; 2 bars; &lt;1s or &gt;10s; a note, as f#; hit, loop, kick and the like; bright, dark"
          clearable
          @keydown.stop
          @click:clear="wanted = ''"
          @update:model-value="wanted = $event ?? ''"
        />
        <v-btn-toggle v-model="room" class="rooms" role="group" aria-label="What is shown">
          <v-btn v-for="one in rooms" :key="one.value" :value="one.value">
            {{ one.words }}<span v-if="one.count !== null" class="mono count">{{ one.count }}</span>
          </v-btn>
        </v-btn-toggle>
      </div>
    </template>
    <template #tools>
      <v-btn
        :icon="ICONS.backup"
        size="small"
        href="/api/backup"
        download
        aria-label="Back up everything"
        data-tip="Back up: everything, sounds and all versions, as one file"
        data-testid="backup"
      />
      <v-btn
        :prepend-icon="ICONS.record"
        to="/capture"
        data-tip="Hits from an input, or a recording of it"
        data-testid="to-capture"
        >Capture</v-btn
      >
      <v-btn
        :prepend-icon="ICONS.import"
        data-tip="Sound files: WAV, FLAC, MP3, Ogg, AIFF; or a whole project that was taken away (zip)"
        data-testid="import"
        @click="pickFiles()"
        >Import …</v-btn
      >
    </template>
    <ProjectCards v-if="room === 'all'" :projects="projects" :most="MOST_CARDS" @create="create" />
    <div v-if="room === 'projects'" class="sheet fill">
      <ProjectTable :projects="projects" class="full" />
    </div>
    <v-btn v-if="room === 'projects'" class="strong" data-testid="new-project" @click="create">New project</v-btn>
    <template v-if="showsSounds">
      <div class="tag-row">
        <h2 class="room-title">Sounds</h2>
        <v-chip-group v-model="chosenTags" multiple class="tags" aria-label="Tags">
          <v-chip
            v-for="[tag, count] in tagCounts"
            :key="tag"
            :value="tag"
            filter
            variant="outlined"
            :aria-label="`Only ${tag}`"
            >{{ tag }}<span class="mono count">{{ count }}</span></v-chip
          >
        </v-chip-group>
        <v-btn
          v-if="unusedCount > 0"
          size="small"
          :active="onlyUnused"
          :aria-pressed="onlyUnused"
          data-tip="No project plays it, nor did an earlier version, nor does a kit"
          data-testid="only-unused"
          @click="onlyUnused = !onlyUnused"
          >not used<span class="mono count">{{ unusedCount }}</span></v-btn
        >
        <span class="quiet small" data-testid="sound-count">
          {{
            sounds.length === shelf.sources.length
              ? countWords(sounds.length, 'sound')
              : `${sounds.length} of ${shelf.sources.length}`
          }}{{ chosen.length > 0 ? ` · ${chosen.length} chosen` : '' }}
        </span>
        <IconButton
          icon="folder"
          words="Import a folder"
          hint="All sounds of a folder and of those in it; their names become tags"
          data-testid="import-folder"
          @click="folder.open()"
        />
        <IconButton
          icon="remove"
          words="Delete the chosen sounds"
          action="remove"
          :disabled="chosen.length === 0"
          @click="removeChosen"
        />
      </div>
      <div class="sheet fill sounds">
        <InTurn v-if="shelf.sources.length > 0"
          ><SoundTable v-model="chosenIds" class="full" :sources="sounds" @cut="cut"
        /></InTurn>
        <p v-else-if="shelf.loaded" class="none quiet">
          The shelf is empty. Drop sound files anywhere on this page, or use Import: WAV, FLAC, MP3, Ogg, AIFF.
        </p>
      </div>
      <BreaksSheet v-if="cursor && listening.searchedIds.has(cursor.id)" :source="cursor" />
      <InTurn v-else><ListeningStrip class="listening" /></InTurn>
    </template>
    <div v-if="room === 'kits'" class="sheet fill"><KitList class="full" :wanted="wanted" /></div>
    <div v-if="room === 'chains'" class="sheet fill"><ChainList class="full" :wanted="wanted" /></div>
    <div v-if="room === 'grooves'" class="sheet fill"><GrooveList class="full" :wanted="wanted" /></div>
    <div v-if="room === 'deleted'" class="fill"><DeletedList /></div>
    <template v-if="cursor && showsSounds" #details>
      <SoundDetails :source="cursor" :chosen="chosen" @cut="cut" />
    </template>
  </PlaceFrame>
</template>

<style scoped>
.bar {
  display: flex;
  gap: 8px;
  align-items: center;
}
.search {
  flex: 0 1 186px;
  min-width: 104px;
}
.rooms {
  flex: none;
}
.rooms :deep(.v-btn) {
  padding: 0 8px;
}
.count {
  margin-left: 5px;
  font-weight: 400;
}
.fill {
  flex: 1;
  min-height: 120px;
  overflow: hidden;
  display: flex;
  flex-direction: column;
}
.fill .full {
  flex: 1;
  min-height: 0;
}
.tag-row {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 34px;
  flex: none;
}
.room-title {
  color: var(--ink);
  font-size: 18px;
  font-weight: 680;
}
.tags {
  flex: 1;
  min-width: 0;
}
.listening {
  flex: 0 0 clamp(120px, 22vh, 190px);
}
.none {
  padding: 30px;
  text-align: center;
}
</style>
