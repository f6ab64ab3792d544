<script setup lang="ts">
/** The screen where one project is worked on. */
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { moveMarker } from '#core/project/commands/cut.ts';
import { setSliceEnds } from '#core/project/commands/slices.ts';
import { sliceAtFrame } from '#core/queries/slices.ts';
import { cutValues, partValues } from '#core/queries/values.ts';
import { describeFailure } from '../api/words.ts';
import { engine, notes } from '../audio/services.ts';
import { DeviceKeys } from '../input/notes.ts';
import { zoomAt, zoomTo, wholeWindow } from '../canvas/view-window.ts';
import BounceDialog from '../components/dialogs/BounceDialog.vue';
import DetailsPanel from '../components/details/DetailsPanel.vue';
import KeysBand from '../components/keys/KeysBand.vue';
import PartsRail from '../components/song/PartsRail.vue';
import PatternBand from '../components/pattern/PatternBand.vue';
import VersionsDialog from '../components/dialogs/VersionsDialog.vue';
import ViewingBanner from '../components/song/ViewingBanner.vue';
import SlicesOutDialog from '../components/dialogs/SlicesOutDialog.vue';
import ShortcutSheet from '../components/dialogs/ShortcutSheet.vue';
import SourceBand from '../components/source/SourceBand.vue';
import TransportBar from '../components/song/TransportBar.vue';
import type { ActionId } from '../input/shortcuts.ts';
import { useBenchKeys } from '../input/use-bench-keys.ts';
import { useEditing } from '../stores/editing.ts';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';
import { useSession } from '../stores/session.ts';
import { usePreview } from '../stores/preview.ts';
import { useTransport } from '../stores/transport.ts';

const props = defineProps<{ projectId: string }>();
const router = useRouter();
const project = useProject();
const session = useSession();
const transport = useTransport();
const preview = usePreview();
const editing = useEditing();
const notices = useNotices();
const sourceBand = ref<InstanceType<typeof SourceBand> | null>(null);
const transportBar = ref<InstanceType<typeof TransportBar> | null>(null);
/** The computer keyboard knows no strength. */
const TYPED_VELOCITY = 0.9;
const bouncing = ref(false);
const exporting = ref(false);
const helping = ref(false);
const listing = ref(false);
const ready = computed(() => project.document?.id === props.projectId);
const isEmpty = computed(() => project.document?.partOrder.length === 0);

watch(
  () => props.projectId,
  async (id) => {
    transport.stop();
    try {
      await project.open(id);
    } catch (error) {
      notices.error(describeFailure('The project', error));
      void router.replace('/');
    }
  },
  { immediate: true },
);

onBeforeUnmount(() => {
  transport.stop();
  void project.flush();
});

/** Chooses the neighbour of the selected slice and plays it. */
function stepSlice(by: 1 | -1): void {
  const { placed, selectedSlices } = session;
  if (placed.length === 0) return;
  const from = selectedSlices[0]?.index ?? (by === 1 ? -1 : placed.length);
  const next = placed[Math.max(0, Math.min(placed.length - 1, from + by))]!;
  session.selectSlices([next.slice.id]);
  const zone = session.zoneBySlice.get(next.slice.id)?.zone;
  if (zone) transport.playZone(zone.id);
}

function nudge(by: 1 | -1): void {
  if (session.eventIds.length > 0) editing.nudgeEvents(by);
  else sourceBand.value?.nudgeMarker(by);
}

/** The frame of the source that sounds now, of the latest slice that started. */
function soundingFrame(): number | null {
  const rate = session.loaded?.sampleRate ?? 44100;
  const { sounding, previewing, previewFrame } = engine.status;
  const latest = sounding.findLast(([, zoneId]) => session.sliceByZone.has(zoneId));
  const frame = latest?.[2] ?? (previewing ? previewFrame : null);
  return frame === null ? null : engine.heardFrame(frame, rate);
}

function split(): void {
  const frame = soundingFrame();
  const { method, tapWindowMs } = session.cut ? cutValues(session.cut) : { method: null, tapWindowMs: 0 };
  const isTapping = method === 'taps';
  if (frame !== null)
    void sourceBand.value?.addMarkerAt(frame, isTapping && tapWindowMs === 0, isTapping ? tapWindowMs : undefined);
  else notices.info('Play something first: the marker is set where the sound is.');
}

/** Moves the start or the end of the slice that sounds to where the sound is. */
function trimHere(side: 'start' | 'end'): void {
  const frame = soundingFrame();
  const at = session.selectedSlices[0] ?? (frame === null ? undefined : sliceAtFrame(session.placed, frame));
  if (frame === null || !at || !session.cut) notices.info('Play a slice first: it is trimmed where the sound is.');
  else if (side === 'start')
    project.run('trim the start', moveMarker, { cutId: session.cut.id, sliceId: at.slice.id, startFrame: frame });
  else project.run('trim the end', setSliceEnds, { cutId: session.cut.id, ends: { [at.slice.id]: frame } });
}

function playFromHere(): void {
  const at = session.selectedSlices[0];
  if (at && session.cut) void preview.playRange(session.cut.sourceId, at.startFrame, null, false);
}

function zoom(factor: number): void {
  const frames = session.loaded?.channels[0]?.length;
  if (!frames) return;
  session.sourceWindow = zoomAt(session.sourceWindow ?? wholeWindow(frames), factor, 0.5, 1, frames);
}

function zoomToSelection(): void {
  const chosen = session.selectedSlices;
  const frames = session.loaded?.channels[0]?.length;
  if (chosen.length === 0 || !frames) return;
  session.sourceWindow = zoomTo(
    Math.min(...chosen.map((at) => at.startFrame)),
    Math.max(...chosen.map((at) => at.endFrame)),
    frames,
  );
}

const actions: Record<ActionId, () => void> = {
  play: () => transport.toggle(),
  undo: () => project.undo(),
  redo: () => project.redo(),
  remove: () => editing.removeSelected(),
  'next-slice': () => stepSlice(1),
  'previous-slice': () => stepSlice(-1),
  'nudge-later': () => nudge(1),
  'nudge-earlier': () => nudge(-1),
  split,
  'trim-start': () => trimHere('start'),
  'trim-end': () => trimHere('end'),
  merge: () => editing.mergeSelected(),
  'select-all': () => session.selectSlices(session.placed.map((at) => at.slice.id)),
  'loop-slice': () => editing.loopSelected(),
  'play-here': playFromHere,
  lock: () => editing.lockSelected(),
  reverse: () => editing.reverseSelected(),
  repeat: () => editing.repeatSelected(),
  hold: () => editing.holdSelected(),
  deal: () => editing.dealAgain(),
  'hand-before': () => editing.handBefore(),
  'copy-pattern': () => editing.copyCurrentPattern(),
  'zoom-in': () => zoom(1.6),
  'zoom-out': () => zoom(1 / 1.6),
  'zoom-selection': zoomToSelection,
  'zoom-all': () => (session.sourceWindow = null),
  'grow-source': () => session.toggleBand('source'),
  'grow-keys': () => session.toggleBand('keys'),
  'grow-pattern': () => session.toggleBand('pattern'),
  click: () => transportBar.value?.toggleClick(),
  tap: () => transportBar.value?.tap(),
  bounce: () => (bouncing.value = !isEmpty.value),
  help: () => (helping.value = true),
};

/** The computer keyboard: what a key has pressed it lets go, whatever part is chosen by then. */
const typed = new DeviceKeys(notes);
const sliceKeys = {
  down: (offset: number, timeStamp: number) => {
    const { part } = session;
    const key = part ? partValues(part).startKey + offset : 128;
    if (part && key <= 127) typed.down(offset, part.id, key, TYPED_VELOCITY, timeStamp);
  },
  up: (offset: number, timeStamp?: number) => typed.up(offset, timeStamp),
};

useBenchKeys(actions, sliceKeys, () => bouncing.value || helping.value || exporting.value || listing.value);
</script>

<template>
  <div v-if="ready" class="bench">
    <PartsRail class="rail-area" @bounce="bouncing = true" @slices-out="exporting = true" @versions="listing = true" />
    <main v-if="isEmpty" class="nothing">
      <ViewingBanner v-if="project.viewing" />
      <p class="big">Drop a loop here.</p>
      <p class="quiet">It is cut at its hits, read for its tempo, and ready to play. WAV, FLAC, MP3, Ogg and AIFF.</p>
    </main>
    <main v-else class="bands">
      <ViewingBanner v-if="project.viewing" />
      <SourceBand ref="sourceBand" class="source-band" />
      <KeysBand class="keys-band" />
      <PatternBand class="pattern-band" />
    </main>
    <DetailsPanel v-if="!isEmpty" class="details-area" />
    <TransportBar ref="transportBar" class="transport-area" @help="helping = true" />
    <BounceDialog v-model="bouncing" />
    <SlicesOutDialog v-if="!isEmpty" v-model="exporting" />
    <ShortcutSheet v-model="helping" />
    <VersionsDialog v-model="listing" />
  </div>
  <p v-else class="opening quiet">opening the project …</p>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template: minmax(0, 1fr) 68px / 178px minmax(0, 1fr) 246px;
  grid-template-areas: 'rail bands details' 'foot foot foot';
  height: 100vh;
}
.rail-area {
  grid-area: rail;
}
.bands {
  grid-area: bands;
  display: flex;
  flex-direction: column;
  gap: 4px;
  padding: 6px 14px 12px;
  min-width: 0;
  min-height: 0;
}
.source-band {
  flex: 1.25;
}
.keys-band {
  flex: 0 0 168px;
}
.keys-band.grown {
  flex: 1;
}
.pattern-band {
  flex: 1.55;
}
.details-area {
  grid-area: details;
}
.transport-area {
  grid-area: foot;
}
.nothing {
  grid-column: 2 / 4;
  display: grid;
  place-content: center;
  gap: 8px;
  text-align: center;
  margin: 20px;
  border: 2px dashed var(--rule);
}
.big {
  font-size: 26px;
  font-weight: 650;
}
.opening {
  display: grid;
  place-content: center;
  height: 100vh;
}
@media (max-width: 1000px) {
  .bench {
    grid-template: minmax(0, 1fr) auto 68px / 150px minmax(0, 1fr);
    grid-template-areas: 'rail bands' 'rail details' 'foot foot';
  }
  .bands {
    overflow-y: auto;
  }
  .source-band {
    flex: 1 0 210px;
  }
  .pattern-band {
    flex: 1 0 290px;
  }
  .details-area {
    max-height: 30vh;
    border-left: 0;
    border-top: 1px solid var(--rule);
  }
}
</style>
