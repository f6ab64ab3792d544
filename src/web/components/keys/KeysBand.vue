<script setup lang="ts">
/** Sounds on their keys, played with the mouse; the computer keyboard and MIDI are heard in every place. */
import { computed, defineAsyncComponent, onBeforeUnmount, ref } from 'vue';
import { setValue, type Owner } from '#core/project/commands/values.ts';
import type { ZoneValues } from '#core/params/tables.ts';
import { ZONE_ROWS } from '#core/params/tables.ts';
import { partValues, zoneValues } from '#core/queries/values.ts';
import { zonesOnKey } from '#core/queries/zones.ts';
import { keyName } from '../../canvas/key-names.ts';
import { engine, notes } from '../../audio/services.ts';
import { pressStrength } from '../../canvas/key-table-layout.ts';
import { keyRange, noteAt } from '../../canvas/keyboard-layout.ts';
import { useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { localPoint } from '../../canvas/use-drag.ts';
import { DeviceKeys } from '../../devices/notes.ts';
import { useSoundDrag } from '../../stores/keys/sound-drag.ts';
import { useLaying } from '../../stores/keys/laying.ts';
import { usePartSounds } from '../../stores/sound/part-sounds.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { useRecentPresses } from '../../stores/keys/recent-presses.ts';
import BandFrame from '../shared/BandFrame.vue';
import ChoiceField from '../fields/ChoiceField.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';
import InTurn from '../shared/InTurn.vue';
import DevicesMenu from './DevicesMenu.vue';
import { fillKey } from './keyboard-picture.ts';
import { drawKeys, keysBox } from './keys-picture.ts';

// What is not seen at first is fetched when it is.
const KeyTable = defineAsyncComponent(() => import('./KeyTable.vue'));
const LayOutBar = defineAsyncComponent(() => import('./LayOutBar.vue'));
const HelperRow = defineAsyncComponent(() => import('../helpers/HelperRow.vue'));

const project = useProject();
const session = useSession();
const laying = useLaying();
const soundDrag = useSoundDrag();
const sounds = usePartSounds();
// A key that is played chooses its sound.
useRecentPresses();
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);

const part = computed(() => session.part);
const values = computed(() => (part.value ? partValues(part.value) : null));
const startKey = computed(() => values.value?.startKey ?? 48);
const isGrown = computed(() => session.grownBand === 'keys');
const laid = computed(() => session.zones.flatMap((placed) => (placed.keys ? [{ ...placed, keys: placed.keys }] : [])));
const range = computed(() => {
  const highest = Math.max(startKey.value, ...laid.value.map(({ keys }) => keys.high));
  const lowest = Math.min(startKey.value, ...laid.value.map(({ keys }) => keys.low));
  return keyRange(lowest, highest - lowest + 1);
});
const keyless = computed(() => session.zones.filter(({ keys }) => keys === null).length);
const facts = computed(() => {
  const whole = session.zones.filter(({ zone }) => zone.plays.kind === 'loop').length;
  const slices = laid.value.length - whole;
  return [
    session.cuts.length > 1 ? `${session.cuts.length} sounds` : '',
    `${slices} ${slices === 1 ? 'slice' : 'slices'} on keys`,
    whole > 0 ? 'a whole loop' : '',
  ]
    .filter(Boolean)
    .join(', ');
});
/** What is on of it. */
const onTheWay = computed(() =>
  (part.value?.helperOrder ?? []).map((id) => project.document!.helpers[id]!).filter(({ bypassed }) => !bypassed),
);
const wayHint = computed(() =>
  onTheWay.value.length > 0
    ? `On the way to the keys: ${onTheWay.value.map(({ kind }) => kind).join(', ')}`
    : 'Chord, runner, echoes: what changes notes before the keys are pressed',
);
const partOwner = computed<Owner[]>(() => (part.value ? [{ kind: 'part', id: part.value.id }] : []));
const zoneOwners = computed(() => session.zones.map(({ zone }): Owner => ({ kind: 'zone', id: zone.id })));
/** Null: each its own way. */
const answerOfAll = computed(() => {
  const kinds = new Set(session.zones.map(({ zone }) => zoneValues(zone).answer));
  return kinds.size > 1 ? null : ([...kinds][0] ?? 'one-shot');
});
const answers = ZONE_ROWS.answer.choices.map(({ value, words }) => ({ value, words: `play ${words}` }));

function paint(stage: Stage): void {
  drawKeys(stage, {
    range: range.value,
    laid: laid.value,
    sounds: sounds.byCut,
    colourOf: sounds.colourOf,
    selected: new Set(session.selectedZones.map(({ zone }) => zone.id)),
  });
}

function paintSounding(stage: Stage): void {
  const sounding = new Set(engine.status.sounding.map(([, zoneId]) => zoneId));
  const box = keysBox(stage.height);
  for (const { zone, keys } of laid.value) {
    if (sounding.has(zone.id)) fillKey(stage, box, range.value, keys.root, stage.inks.signal);
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

/** The higher on the key, the louder; the strips above play at their loudest. */
function velocityAt(event: PointerEvent): number {
  const canvas = overlay.value!;
  const { y } = localPoint(event, canvas);
  const { top, bottom } = keysBox(canvas.clientHeight);
  return pressStrength(top, bottom, y);
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
  const placed = note === null || laying.awaited ? undefined : zonesOnKey(session.zones, note)[0];
  if (placed) {
    const isShown = placed.cut.id === session.cut?.id && placed.at.index >= 0;
    if (event.shiftKey && isShown) session.selectSliceRange(placed.at.slice.id);
    else session.selectZones([placed.zone.id], event.ctrlKey || event.metaKey);
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
  const label = `play ${ZONE_ROWS.answer.choices.find(({ value }) => value === to)!.words}`;
  project.run(label, setValue, { owners: zoneOwners.value, param: 'answer', change: { to } });
}

function toggleOneAtATime(): void {
  const change = { to: !values.value!.oneAtATime };
  project.run('one at a time', setValue, { owners: partOwner.value, param: 'oneAtATime', change });
}

onBeforeUnmount(
  soundDrag.offerKeys((clientX, clientY) => {
    const canvas = overlay.value;
    if (!canvas || isGrown.value) return null;
    const box = canvas.getBoundingClientRect();
    const x = clientX - box.left;
    const y = clientY - box.top;
    if (x < 0 || y < 0 || x > box.width || y > box.height) return null;
    return noteAt(range.value, x, box.width, y < keysBox(box.height).blackBottom);
  }),
);
onBeforeUnmount(() => mouse.allUp());
</script>

<template>
  <BandFrame band="keys" title="Keys" :data-takes-files="part?.id">
    <template #facts>
      <span v-if="part" data-testid="keys-facts">
        <template v-if="isGrown">{{ part.name }} · {{ facts }}</template>
        <span v-else-if="laying.awaited" class="awaits">{{ laying.awaited.words }}</span>
        <span v-else-if="soundDrag.carried" class="awaits"
          >{{ soundDrag.carried.words }}
          {{ soundDrag.overKey === null ? '' : `to ${keyName(soundDrag.overKey)}` }}</span
        >
        <span v-else class="spare">from {{ keyName(startKey) }} upwards</span>
        <template v-if="keyless > 0">
          <span class="spare"> · </span>{{ keyless }} of the slices have no key: start lower, or lay them out
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
        v-if="!isGrown"
        icon="way"
        words="On the way to the keys"
        :hint="wayHint"
        :pressed="onTheWay.length > 0 ? true : undefined"
        data-testid="open-helpers"
        @click="session.toggleBand('keys')"
      />
      <DevicesMenu />
    </template>
    <div v-if="isGrown" class="grown">
      <InTurn><LayOutBar /></InTurn>
      <InTurn><HelperRow /></InTurn>
      <InTurn><KeyTable /></InTurn>
    </div>
    <div v-show="!isGrown" class="stage layers">
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
.grown {
  height: 100%;
  display: flex;
  flex-direction: column;
}
.grown > :last-child {
  flex: 1;
  min-height: 0;
}
.awaits {
  color: var(--sea);
  font-weight: 600;
}
.start-key {
  width: 146px;
}
.answers {
  width: 136px;
}
</style>
