<script setup lang="ts">
/** The frame: parts and places at the left, the place that one is in, the transport under all of them. */
import { useEventListener, useTimeoutFn, useTitle } from '@vueuse/core';
import { computed, defineAsyncComponent, reactive, ref, watch, watchEffect } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useTheme } from 'vuetify';
import { describeFailure } from './api/words.ts';
import NoticeStack from './components/frame/NoticeStack.vue';
import PlaceRail from './components/frame/PlaceRail.vue';
import SharedTooltip from './components/frame/SharedTooltip.vue';
import { useFocusReturn } from './input/focus-return.ts';
import { useBenchKeys } from './input/use-bench-keys.ts';
import { useTypedKeys } from './input/typed-keys.ts';
import { useActions } from './stores/frame/actions.ts';
import { droppedFolders, filesIn } from './stores/shelf/folders.ts';
import { useImports } from './stores/shelf/imports.ts';
import { useLearning } from './stores/keys/learning.ts';
import { useNotices } from './stores/frame/notices.ts';
import { usePlanSender } from './stores/sound/plan-sender.ts';
import { usePlayed } from './stores/sound/played.ts';
import { useProject } from './stores/document/project.ts';
import { useSaver } from './stores/document/saver.ts';
import { useSession } from './stores/document/session.ts';
import { useSettingMenu } from './stores/frame/setting-menu.ts';
import { useTransport } from './stores/sound/transport.ts';
import { useDialogs } from './stores/frame/dialogs.ts';
import { applyTheme, themeName } from './theme/theme.ts';

// What is opened now and then is fetched when it is.
const CommandSearch = defineAsyncComponent(() => import('./components/dialogs/CommandSearch.vue'));
const TransportBar = defineAsyncComponent(() => import('./components/frame/TransportBar.vue'));
const MidiFileDialog = defineAsyncComponent(() => import('./components/dialogs/MidiFileDialog.vue'));
const FlatDialog = defineAsyncComponent(() => import('./components/dialogs/FlatDialog.vue'));
const PrintDialog = defineAsyncComponent(() => import('./components/dialogs/PrintDialog.vue'));
const SettingMenu = defineAsyncComponent(() => import('./components/fields/SettingMenu.vue'));
const StandInDrawer = defineAsyncComponent(() => import('./components/controllers/StandInDrawer.vue'));
const ShortcutSheet = defineAsyncComponent(() => import('./components/dialogs/ShortcutSheet.vue'));
const VersionsDialog = defineAsyncComponent(() => import('./components/dialogs/VersionsDialog.vue'));

const SEND_LEFT_AFTER_MS = 3000;

const route = useRoute();
const router = useRouter();
const imports = useImports();
const saver = useSaver();
const notices = useNotices();
const project = useProject();
const session = useSession();
const transport = useTransport();
const actions = useActions();
const dialogs = useDialogs();
const learning = useLearning();
const settingMenu = useSettingMenu();
usePlayed();
usePlanSender();
// What moves by hand is fetched when there is something to move, or to learn.
const isByHand = computed(() => learning.isOn || Object.keys(project.document?.mappings ?? {}).length > 0);
watch(isByHand, async (isWanted) => {
  if (isWanted) (await import('./stores/keys/controllers.ts')).useControllers();
});
const theme = useTheme();
const dropping = ref(false);
const wasOpened = reactive({ searching: false, helping: false, versions: false });
watchEffect(() => {
  for (const name of ['searching', 'helping', 'versions'] as const) wasOpened[name] ||= dialogs[name];
});

watchEffect(() => theme.change(themeName.value === 'dark' ? 'night' : 'paper'));
useTitle(computed(() => (project.document ? `${project.document.name} · Yappa` : 'Yappa')));

/** Places of a project name it in their address; the shelf leaves the open one as it is. */
const wantedId = computed(() => (route.params.projectId as string | undefined) ?? null);
const isReady = computed(() => wantedId.value === null || project.document?.id === wantedId.value);
const isEmpty = computed(() => project.document?.partOrder.length === 0);
watch(
  wantedId,
  async (id) => {
    if (id === null) return;
    if (project.document?.id !== id) transport.stop();
    try {
      await project.open(id);
    } catch (error) {
      notices.error(describeFailure('The project', error));
      void router.replace('/');
    }
  },
  { immediate: true },
);
watch(
  () => project.document?.id,
  (id) => {
    if (id === undefined) transport.stop();
  },
);
// What is not saved yet goes when another place is taken.
watch(
  () => route.name,
  () => void project.flush(),
);

actions.offer({
  night: () => applyTheme(themeName.value === 'dark' ? 'light' : 'dark'),
  search: () => (dialogs.searching = true),
  help: () => (dialogs.helping = true),
  'go-shelf': () => void router.push('/'),
  details: () => session.toggleDetails(),
  'stand-in': () => (dialogs.standIn = !dialogs.standIn),
  'learn-controller': () => (learning.isOn ? learning.end() : learning.begin()),
});
useBenchKeys(actions.run, useTypedKeys());
useFocusReturn();

/** The part that files are dropped on: in the rail, or by its keys. */
const underPartId = ref<string | null>(null);
function partUnder({ clientX, clientY }: DragEvent): string | null {
  if (route.name === 'shelf') return null;
  const under = document.elementFromPoint(clientX, clientY)?.closest<HTMLElement>('[data-part-id], [data-takes-files]');
  return under?.dataset.partId ?? under?.dataset.takesFiles ?? null;
}
const dropWords = computed(() => {
  if (route.name === 'shelf') return 'Drop to put on the shelf';
  const under = project.document?.parts[underPartId.value ?? ''];
  return under ? `Drop to lay it on the free keys of ${under.name}` : 'Drop to add as a part';
});

useEventListener(window, 'keydown', ({ key }) => {
  if (key === 'Escape' && learning.isOn) learning.end();
});
useEventListener(window, 'dragover', (event) => {
  if (!event.dataTransfer?.types.includes('Files')) return;
  event.preventDefault();
  dropping.value = true;
  underPartId.value = partUnder(event);
});
function takeDropped(files: readonly File[], under: string | null): void {
  const midi = route.name !== 'shelf' && session.part ? files.filter(({ name }) => /\.midi?$/i.test(name)) : [];
  // The first of them: it is looked at before it becomes a pattern.
  if (midi[0]) dialogs.midiFile = midi[0];
  const sounds = files.filter((file) => !midi.includes(file));
  if (sounds.length > 0) void imports.importFiles(sounds, route.name !== 'shelf', under);
}
useEventListener(window, 'drop', (event) => {
  if (!event.dataTransfer?.files.length) return;
  event.preventDefault();
  dropping.value = false;
  const folders = droppedFolders(event.dataTransfer.items);
  const under = partUnder(event);
  if (folders) void filesIn(folders).then((files) => takeDropped(files, under));
  else takeDropped([...event.dataTransfer.files], under);
  underPartId.value = null;
});
useEventListener(window, 'dragleave', (event) => {
  if (event.relatedTarget === null) dropping.value = false;
});
// Once it is quiet: first the project that was asked for.
useTimeoutFn(() => void saver.sendLeft(), SEND_LEFT_AFTER_MS);
useEventListener(window, 'online', () => saver.retryNow());
useEventListener(window, 'vite:preloadError', () =>
  notices.error(
    'A part of the page could not be fetched. Is the server there? Load the page again then: nothing is lost.',
  ),
);
useEventListener(window, 'beforeunload', (event) => {
  // Asked before it is sent: while the user thinks about it, it is.
  if (!saver.isAllSaved()) event.preventDefault();
  saver.leave();
});
useEventListener(window, 'pagehide', () => saver.leave());
</script>

<template>
  <v-app>
    <div class="frame" :class="{ alone: !project.document }">
      <PlaceRail class="rail-area" />
      <RouterView v-if="isReady" class="place-area" />
      <p v-else class="place-area opening quiet">opening the project …</p>
      <StandInDrawer v-if="dialogs.standIn && project.document" class="drawer-area" />
      <TransportBar v-if="project.document" class="transport-area" />
    </div>
    <div v-if="dropping" class="drop-here">
      <span>{{ dropWords }}</span>
    </div>
    <NoticeStack />
    <SharedTooltip />
    <CommandSearch v-if="wasOpened.searching" v-model="dialogs.searching" />
    <ShortcutSheet v-if="wasOpened.helping" v-model="dialogs.helping" />
    <MidiFileDialog v-if="dialogs.midiFile && project.document" />
    <FlatDialog v-if="dialogs.flatZoneId && project.document" />
    <PrintDialog v-if="dialogs.printPartId && project.document" />
    <SettingMenu v-if="settingMenu.asked && project.document" />
    <VersionsDialog v-if="wasOpened.versions && project.document && !isEmpty" v-model="dialogs.versions" />
  </v-app>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template: minmax(0, 1fr) auto 68px / 184px minmax(0, 1fr);
  grid-template-areas: 'rail place' 'rail drawer' 'foot foot';
  height: 100dvh;
}
.frame.alone {
  grid-template-rows: minmax(0, 1fr) 0 0;
}
.rail-area {
  grid-area: rail;
}
.place-area {
  grid-area: place;
  min-width: 0;
  min-height: 0;
}
.drawer-area {
  grid-area: drawer;
  min-width: 0;
}
.transport-area {
  grid-area: foot;
}
.opening {
  display: grid;
  place-content: center;
}
.drop-here {
  position: fixed;
  inset: 10px;
  border: 3px dashed var(--sea);
  background: var(--sea-wash);
  display: grid;
  place-items: center;
  font-size: 22px;
  font-weight: 650;
  pointer-events: none;
  z-index: 3000;
}
@media (max-width: 859px) {
  .frame,
  .frame.alone {
    grid-template: auto minmax(0, 1fr) auto auto / minmax(0, 1fr);
    grid-template-areas: 'rail' 'place' 'drawer' 'foot';
  }
}
@media (min-width: 1700px) {
  .frame,
  .frame.alone {
    grid-template-columns: 220px minmax(0, 1fr);
  }
}
</style>
