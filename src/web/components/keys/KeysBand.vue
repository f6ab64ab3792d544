<script setup lang="ts">
/** Slices on consecutive keys, played with the mouse; the computer keyboard and MIDI are heard by the bench. */
import { computed, onBeforeUnmount, ref } from 'vue';
import { setSliceSound } from '#core/project/commands/slices.ts';
import { setPart } from '#core/project/commands/parts.ts';
import { noteName } from '#core/units/pitch.ts';
import { engine } from '../../audio/services.ts';
import { keyRange, noteAt } from '../../canvas/keyboard-layout.ts';
import { useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { localPoint } from '../../canvas/use-drag.ts';
import { connectMidi, midiState, midiWords } from '../../input/midi.ts';
import { playSimulatedPhrase } from '../../input/simulated-midi.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import { useTransport } from '../../stores/transport.ts';
import BandFrame from '../shared/BandFrame.vue';
import { drawKeys, fillKey, keysBox } from './keys-picture.ts';
import DocumentField from '../fields/DocumentField.vue';

const project = useProject();
const session = useSession();
const transport = useTransport();
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);
const simulating = ref(false);

const part = computed(() => session.part);
const range = computed(() => keyRange(part.value?.startKey ?? 48, session.placed.length));
const keyless = computed(() => Math.max(0, (part.value?.startKey ?? 0) + session.placed.length - 128));
const playOfAll = computed(() => {
  const plays = new Set(session.placed.map((at) => at.slice.sound.play));
  return plays.size > 1 ? 'mixed' : ([...plays][0] ?? 'whole');
});

function paint(stage: Stage): void {
  drawKeys(stage, {
    range: range.value,
    startKey: part.value?.startKey ?? 48,
    placed: session.placed,
    colours: session.colours,
    peaks: session.loaded?.peaks ?? null,
    selected: new Set(session.sliceIds),
  });
}

function paintSounding(stage: Stage): void {
  const place = project.document?.partOrder.indexOf(part.value?.id ?? '') ?? -1;
  for (const [partIndex, sliceIndex] of engine.status.sounding) {
    if (partIndex === place && part.value)
      fillKey(stage, range.value, part.value.startKey + sliceIndex, stage.inks.signal);
  }
}

useBandCanvas(picture, overlay, paint, paintSounding);

let heldNote: number | null = null;

function noteUnder(event: PointerEvent): number | null {
  const canvas = overlay.value!;
  const { x, y } = localPoint(event, canvas);
  return noteAt(range.value, x, canvas.clientWidth, y < keysBox(canvas.clientHeight).blackBottom);
}

/** The lower on the key, the louder (common practice); the strips above play at at their loudest. */
function velocityAt(event: PointerEvent): number {
  const canvas = overlay.value!;
  const { y } = localPoint(event, canvas);
  const { top, bottom } = keysBox(canvas.clientHeight);
  return y < top ? 1 : 0.4 + 0.6 * Math.min(1, (y - top) / (bottom - top));
}

function press(event: PointerEvent): void {
  const note = noteUnder(event);
  if (note === heldNote) return;
  release();
  if (note === null || !part.value) return;
  heldNote = note;
  void transport.keyDown(part.value.id, note, velocityAt(event));
}

function onPointerDown(event: PointerEvent): void {
  if (event.button !== 0 || !part.value) return;
  overlay.value!.setPointerCapture(event.pointerId);
  const note = noteUnder(event);
  const at = note === null ? undefined : session.placed[note - part.value.startKey];
  if (at) {
    if (event.shiftKey) session.selectSliceRange(at.slice.id);
    else session.selectSlices([at.slice.id], event.ctrlKey || event.metaKey);
  }
  press(event);
}

function onPointerMove(event: PointerEvent): void {
  if (event.buttons === 1 && overlay.value?.hasPointerCapture(event.pointerId)) press(event);
}

function release(): void {
  if (heldNote !== null && part.value) transport.keyUp(part.value.id, heldNote);
  heldNote = null;
}

function setAll(play: 'whole' | 'held'): void {
  if (!part.value) return;
  const sliceIds = session.placed.map((at) => at.slice.id);
  project.run(play === 'held' ? 'play while held' : 'play whole', setSliceSound, {
    partId: part.value.id,
    sliceIds,
    sound: { play },
  });
}

function setStartKey(startKey: number): void {
  if (part.value) project.run('start key', setPart, { partId: part.value.id, settings: { startKey } });
}

const listener = {
  noteOn: (note: number, velocity: number) => part.value && void transport.keyDown(part.value.id, note, velocity),
  noteOff: (note: number) => part.value && transport.keyUp(part.value.id, note),
};

let stopPhrase: (() => void) | null = null;
function simulate(): void {
  if (stopPhrase) {
    stopPhrase();
    stopPhrase = null;
    simulating.value = false;
    return;
  }
  simulating.value = true;
  stopPhrase = playSimulatedPhrase(listener, part.value?.startKey ?? 48, () => {
    simulating.value = false;
    stopPhrase = null;
  });
}
onBeforeUnmount(() => stopPhrase?.());
</script>

<template>
  <BandFrame band="keys" title="Keys">
    <template #facts>
      <span v-if="part" data-testid="keys-facts">
        <span class="spare">from {{ noteName(part.startKey) }} upwards</span>
        <template v-if="keyless > 0">
          <span class="spare"> · </span>the last {{ keyless }} slices have no key: start lower
        </template>
      </span>
    </template>
    <template v-if="part" #tools>
      <DocumentField
        class="start-key"
        label="from key"
        :model-value="part.startKey"
        :min="0"
        :max="127"
        :reset="48"
        :unit="noteName(part.startKey)"
        undo="start key"
        @put="setStartKey"
      />
      <select
        class="plain-select"
        :value="playOfAll"
        title="How every slice answers its key; single slices are set at the right"
        aria-label="How slices answer their keys"
        @change="setAll(($event.target as HTMLSelectElement).value as 'whole' | 'held')"
      >
        <option v-if="playOfAll === 'mixed'" value="mixed" disabled>each its own way</option>
        <option value="whole">play whole</option>
        <option value="held">play while held</option>
      </select>
      <button
        class="push small"
        :aria-pressed="part.oneAtATime"
        title="A new slice cuts the last one off, with a short fade"
        @click="project.run('one at a time', setPart, { partId: part.id, settings: { oneAtATime: !part.oneAtATime } })"
      >
        one at a time
      </button>
      <button class="push small" :aria-pressed="midiState === 'on'" :title="midiWords()" @click="connectMidi(listener)">
        MIDI
      </button>
      <button
        class="push small"
        :aria-pressed="simulating"
        title="A keyboard that is not there plays a short phrase"
        @click="simulate"
      >
        demo keys
      </button>
    </template>
    <div class="stage layers">
      <canvas ref="picture" />
      <canvas
        ref="overlay"
        role="application"
        aria-label="Keyboard: press a key to play the slice on it"
        data-testid="keys-canvas"
        @pointerdown="onPointerDown"
        @pointermove="onPointerMove"
        @pointerup="release"
        @pointercancel="release"
      />
    </div>
  </BandFrame>
</template>

<style scoped>
/* Of words that only repeat what the field beside them says, a narrow window would leave nothing. */
@media (max-width: 1150px) {
  .spare {
    display: none;
  }
}
.stage {
  height: 100%;
}
canvas {
  cursor: pointer;
}
.start-key {
  width: 132px;
}
</style>
