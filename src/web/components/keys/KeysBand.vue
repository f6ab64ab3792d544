<script setup lang="ts">
/** Slices on consecutive keys, played with the mouse; the computer keyboard and MIDI are heard by the bench. */
import { computed, onBeforeUnmount, ref } from 'vue';
import { setValue, type Owner } from '#core/project/commands/values.ts';
import type { ZoneValues } from '#core/params/tables.ts';
import { partValues, zoneValues } from '#core/queries/values.ts';
import { zonesOnKey } from '#core/queries/zones.ts';
import { noteName } from '#core/units/pitch.ts';
import { engine, notes } from '../../audio/services.ts';
import { keyRange, noteAt } from '../../canvas/keyboard-layout.ts';
import { useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { localPoint } from '../../canvas/use-drag.ts';
import { midiState, midiWords } from '../../input/midi.ts';
import { DeviceKeys } from '../../input/notes.ts';
import { lettersFrom } from '../../input/typing-keys.ts';
import { useDevices } from '../../stores/devices.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import BandFrame from '../shared/BandFrame.vue';
import { drawKeys, fillKey, keysBox } from './keys-picture.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';

const project = useProject();
const session = useSession();
const devices = useDevices();
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);

const part = computed(() => session.part);
const values = computed(() => (part.value ? partValues(part.value) : null));
const startKey = computed(() => values.value?.startKey ?? 48);
/** Slices of the shown cut by the keys that play them. */
const keyed = computed(() =>
  session.zones.flatMap(({ keys, at }) => (keys && session.placed.includes(at) ? [{ keys, at }] : [])),
);
const range = computed(() => {
  const highest = Math.max(startKey.value, ...keyed.value.map(({ keys }) => keys.high));
  const lowest = Math.min(startKey.value, ...keyed.value.map(({ keys }) => keys.low));
  return keyRange(lowest, highest - lowest + 1);
});
const keyless = computed(() => session.zones.filter(({ keys }) => keys === null).length);
const partOwner = computed<Owner[]>(() => (part.value ? [{ kind: 'part', id: part.value.id }] : []));
const zoneOwners = computed(() => session.zones.map(({ zone }): Owner => ({ kind: 'zone', id: zone.id })));
/** Null: each its own way. */
const answerOfAll = computed(() => {
  const kinds = new Set(session.zones.map(({ zone }) => zoneValues(zone).answer));
  return kinds.size > 1 ? null : ([...kinds][0] ?? 'one-shot');
});
const answers: { value: ZoneValues['answer']; words: string }[] = [
  { value: 'one-shot', words: 'play whole' },
  { value: 'gate', words: 'play while held' },
];

function paint(stage: Stage): void {
  drawKeys(stage, {
    range: range.value,
    keyed: keyed.value,
    reversed: new Set(session.zones.flatMap(({ zone, at }) => (zoneValues(zone).reverse ? [at.slice.id] : []))),
    colours: session.colours,
    peaks: session.loaded?.peaks ?? null,
    selected: new Set(session.sliceIds),
    letters: session.grownBand === 'keys' ? lettersFrom(startKey.value) : null,
  });
}

function paintSounding(stage: Stage): void {
  const sounding = new Set(engine.status.sounding.map(([, zoneId]) => zoneId));
  for (const { zone, keys } of session.zones) {
    if (keys && sounding.has(zone.id)) fillKey(stage, range.value, keys.root, stage.inks.signal);
  }
}

useBandCanvas(picture, overlay, paint, paintSounding);

const mouse = new DeviceKeys(notes);
/** The mouse has one key at a time. */
const MOUSE = 0;
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
  mouse.down(MOUSE, part.value.id, note, velocityAt(event), event.timeStamp);
}

function onPointerDown(event: PointerEvent): void {
  if (event.button !== 0 || !part.value) return;
  overlay.value!.setPointerCapture(event.pointerId);
  const note = noteUnder(event);
  const at = note === null ? undefined : zonesOnKey(session.zones, note)[0]?.at;
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
  mouse.up(MOUSE);
  heldNote = null;
}

function setAll(to: ZoneValues['answer']): void {
  const label = to === 'gate' ? 'play while held' : 'play whole';
  project.run(label, setValue, { owners: zoneOwners.value, param: 'answer', change: { to } });
}

function toggleOneAtATime(): void {
  const change = { to: !values.value!.oneAtATime };
  project.run('one at a time', setValue, { owners: partOwner.value, param: 'oneAtATime', change });
}

onBeforeUnmount(() => mouse.allUp());
</script>

<template>
  <BandFrame band="keys" title="Keys">
    <template #facts>
      <span v-if="part" data-testid="keys-facts">
        <span class="spare">from {{ noteName(startKey) }} upwards</span>
        <template v-if="keyless > 0">
          <span class="spare"> · </span>the last {{ keyless }} slices have no key: start lower
        </template>
      </span>
    </template>
    <template v-if="part" #tools>
      <ParamField class="start-key" :owners="partOwner" param="startKey" />
      <ChoiceField
        class="answers"
        label="How slices answer their keys"
        hint="How every slice answers its key; single slices are set at the right"
        :show-label="false"
        :model-value="answerOfAll"
        :choices="answers"
        @put="setAll"
      />
      <v-btn
        :aria-pressed="values!.oneAtATime"
        data-tip="A new slice cuts the last one off, with a short fade"
        @click="toggleOneAtATime"
        >one at a time</v-btn
      >
      <IconButton
        icon="midi"
        words="MIDI"
        :hint="midiWords()"
        :pressed="midiState === 'on'"
        @click="devices.connect()"
      />
      <IconButton
        icon="keys"
        words="demo keys"
        hint="A keyboard that is not there plays a short phrase"
        :pressed="devices.isSimulating"
        @click="devices.toggleSimulated()"
      />
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
  width: 146px;
}
.answers {
  width: 136px;
}
</style>
