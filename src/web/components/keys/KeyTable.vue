<script setup lang="ts">
/**
 * The keys over the full height: every sound a column over its keys, from the softest press that plays it to the hardest.
 * Dragged it moves along the keys (with Alt a copy of it, dropped on another with Shift both change places); its edges
 * set its range of keys and of strengths.
 */
import { computed, onBeforeUnmount, ref, shallowRef } from 'vue';
import { layOnKeys } from '#core/project/commands/lay.ts';
import { layZone, setVelocities } from '#core/project/commands/zones.ts';
import { partValues, zoneValues } from '#core/queries/values.ts';
import { engine, notes } from '../../audio/services.ts';
import {
  draggedZone,
  keyAt,
  keyTableSpot,
  layoutKeyTable,
  withLanes,
  strengthAt,
  tableRange,
  type Grip,
  type KeyTable,
  type LaidZone,
} from '../../canvas/key-table-layout.ts';
import { useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { DeviceKeys } from '../../devices/notes.ts';
import { lettersFrom } from '../../devices/typing-keys.ts';
import { useLaying } from '../../stores/keys/laying.ts';
import { usePartSounds } from '../../stores/sound/part-sounds.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { useRecentPresses } from '../../stores/keys/recent-presses.ts';
import { useTyping } from '../../stores/keys/typing.ts';
import { drawStruck, type WayScene } from './struck-picture.ts';
import { drawKeyTable, drawPresses, type TableZone } from './key-table-picture.ts';

const project = useProject();
const session = useSession();
const laying = useLaying();
const sounds = usePartSounds();
const presses = useRecentPresses();
const typing = useTyping();
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);
const cursor = ref('default');
/** The zone that is dragged, as it would lie. */
const dragged = shallowRef<{ from: LaidZone; to: LaidZone } | null>(null);
/** Lowest key shown, when one has moved along; null: where the sounds are. */
const lowNote = ref<number | null>(null);
/** A press of the mouse has one name. */
const MOUSE = 0;
const mouse = new DeviceKeys(notes);

const startKey = computed(() => (session.part ? partValues(session.part).startKey : 48));
const chosen = computed(() => new Set(session.selectedZones.map(({ zone }) => zone.id)));
const laid = computed<LaidZone[]>(() =>
  withLanes(
    session.zones.flatMap(({ zone, keys }) => (keys ? [{ id: zone.id, keys, velocities: zone.velocities }] : [])),
  ),
);
const range = computed(() => {
  const around = tableRange(laid.value, startKey.value);
  return lowNote.value === null ? around : { ...around, lowNote: Math.min(lowNote.value, 128 - around.keyCount) };
});
const chokeGroups = computed(() =>
  [...new Set(session.zones.map(({ zone }) => zoneValues(zone).chokeGroup))].filter((group) => group > 0).sort(),
);
const hasSolo = computed(() => session.zones.some(({ zone }) => zoneValues(zone).soloed));
const zones = computed<TableZone[]>(() => withLanes(tableZones.value));
const tableZones = computed<TableZone[]>(() =>
  session.zones.flatMap((placed) => {
    if (!placed.keys) return [];
    const { muted, soloed } = zoneValues(placed.zone);
    const to = dragged.value?.to.id === placed.zone.id ? dragged.value.to : null;
    return [
      {
        id: placed.zone.id,
        placed,
        keys: to?.keys ?? placed.keys,
        velocities: to?.velocities ?? placed.zone.velocities,
        colour: sounds.colourOf(placed),
        isChosen: chosen.value.has(placed.zone.id),
        isSilenced: hasSolo.value ? !soloed : muted,
      },
    ];
  }),
);

const tableFor = (width: number, height: number): KeyTable =>
  layoutKeyTable(range.value, width, height, chokeGroups.value.length);
const tableNow = (): KeyTable => tableFor(overlay.value!.clientWidth, overlay.value!.clientHeight);

function paint(stage: Stage): void {
  const first = session.selectedZones[0];
  drawKeyTable(stage, {
    table: tableFor(stage.width, stage.height),
    zones: zones.value,
    sounds: sounds.byCut,
    letters: lettersFrom(typing.firstKey),
    chokeGroups: chokeGroups.value,
    from: dragged.value?.from ?? null,
    root: first?.keys && first.keys.high > first.keys.low ? first.keys.root : null,
  });
}

function paintPresses(stage: Stage): void {
  const sounding = new Set(engine.status.sounding.map(([, zoneId]) => zoneId));
  drawPresses(
    stage,
    tableFor(stage.width, stage.height),
    zones.value.filter(({ id }) => sounding.has(id)),
    presses.hits,
  );
  if (session.part?.helperOrder.length) drawStruck(stage, tableFor(stage.width, stage.height), wayNow());
}

/** What helpers hold and play now. */
function wayNow(): WayScene {
  const all = engine.status.parts.find(({ partId }) => partId === session.part?.id)?.helpers ?? [];
  const struck = presses.isRunning() ? presses.struck : [];
  return {
    struck,
    heldKeys: [...new Set(all.flatMap(({ heldKeys }) => heldKeys))],
    nextKey: struck.length > 0 ? (all.findLast(({ nextKey }) => nextKey >= 0)?.nextKey ?? -1) : -1,
  };
}

useBandCanvas(
  picture,
  overlay,
  paint,
  paintPresses,
  () =>
    engine.status.sounding.length > 0 || presses.hits.length > 0 || presses.isRunning() || wayNow().heldKeys.length > 0,
);

function spotOf(event: PointerEvent) {
  const { x, y } = localPoint(event, overlay.value!);
  return keyTableSpot(tableNow(), laid.value, chosen.value, x, y);
}

const CURSORS: Record<Grip, string> = {
  body: 'grab',
  left: 'ew-resize',
  right: 'ew-resize',
  top: 'ns-resize',
  bottom: 'ns-resize',
};

function onHover(event: PointerEvent): void {
  if (event.buttons) return;
  const spot = spotOf(event);
  cursor.value = spot.kind === 'zone' ? CURSORS[spot.grip] : spot.kind === 'nothing' ? 'default' : 'pointer';
}

function onPointerDown(event: PointerEvent): void {
  if (event.button !== 0 || !session.part) return;
  const spot = spotOf(event);
  if (spot.kind === 'zone') dragZone(event, spot);
  else if (spot.kind === 'key') playKeys(event);
  else if (spot.kind === 'overview') dragOverview(event);
  else if (!event.shiftKey) session.selectZones([]);
}

function playKeys(event: PointerEvent): void {
  let held: number | null = null;
  const press = (at: PointerEvent) => {
    const spot = spotOf(at);
    const key = spot.kind === 'key' ? spot.key : null;
    if (key === held) return;
    mouse.up(MOUSE);
    held = key;
    if (spot.kind === 'key') mouse.down(MOUSE, session.part!.id, spot.key, spot.velocity, at.timeStamp);
  };
  press(event);
  followPointer(event, { move: press, end: () => mouse.up(MOUSE), cancel: () => mouse.up(MOUSE) });
}

function dragOverview(event: PointerEvent): void {
  const go = (at: PointerEvent) => {
    const { x } = localPoint(at, overlay.value!);
    const spot = keyTableSpot(tableNow(), [], chosen.value, x, overlay.value!.clientHeight - 1);
    if (spot.kind !== 'overview') return;
    const { keyCount } = range.value;
    const low = Math.round((spot.key - keyCount / 2) / 12) * 12;
    lowNote.value = Math.max(0, Math.min(128 - keyCount, low));
  };
  go(event);
  followPointer(event, { move: go, end: () => undefined, cancel: () => undefined });
}

function dragZone(event: PointerEvent, spot: { id: string; grip: Grip; step: number; key: number }): void {
  const isAdding = event.shiftKey || event.ctrlKey || event.metaKey;
  const wasChosen = chosen.value.has(spot.id);
  if (isAdding && !event.altKey) session.selectZones([spot.id], true);
  else if (!wasChosen) session.selectZones([spot.id]);
  const from = laid.value.find(({ id }) => id === spot.id)!;
  mouse.down(MOUSE, session.part!.id, spot.key, spot.step / 127, event.timeStamp);
  let latest = event;
  followPointer(event, {
    move: (moved) => {
      latest = moved;
      const table = tableNow();
      const { x, y } = localPoint(moved, overlay.value!);
      const key = keyAt(table, x) ?? spot.key;
      const to = draggedZone(from, spot.grip, key - spot.key, strengthAt(table, y) - spot.step);
      const isSame = to.keys.low === from.keys.low && to.keys.high === from.keys.high;
      const isAsStrong = to.velocities.low === from.velocities.low && to.velocities.high === from.velocities.high;
      dragged.value = isSame && isAsStrong ? null : { from, to };
      mouse.up(MOUSE);
    },
    end: (moved) => {
      mouse.up(MOUSE);
      const drop = dragged.value;
      dragged.value = null;
      if (drop && moved) dropZone(drop.from, drop.to, spot.grip, latest);
      else if (!isAdding && wasChosen) session.selectZones([spot.id]);
    },
    cancel: () => {
      mouse.up(MOUSE);
      dragged.value = null;
    },
  });
}

function dropZone(from: LaidZone, to: LaidZone, grip: Grip, event: PointerEvent): void {
  const ids = session.selectedZones.map(({ zone }) => zone.id);
  if (grip === 'top' || grip === 'bottom') {
    const { low, high } = to.velocities;
    const end = grip === 'top' ? { high } : { low };
    project.run('strengths', setVelocities, { zoneIds: ids, velocities: end });
    return;
  }
  if (grip !== 'body') {
    project.run('range of keys', layZone, { zoneId: from.id, keys: to.keys });
    return;
  }
  const by = to.keys.low - from.keys.low;
  const other = laid.value.find(
    ({ id, keys }) => id !== from.id && keys.low <= to.keys.low && keys.high >= to.keys.low,
  );
  if (event.altKey) project.run('copy to a key', layOnKeys, { zoneId: from.id, keys: [to.keys.low] });
  else if (event.shiftKey && other) laying.swap(from.id, other.id);
  else laying.move(by);
  laying.hearSoon(from.id);
}

onBeforeUnmount(() => mouse.allUp());
</script>

<template>
  <div class="layers table">
    <canvas ref="picture" />
    <canvas
      ref="overlay"
      :style="{ cursor }"
      role="application"
      aria-label="Sounds on keys: drag them along the keys, their edges set the range of keys and of strengths; the keyboard beneath plays"
      data-testid="key-table"
      @pointerdown="onPointerDown"
      @pointermove="onHover"
    />
    <p v-if="laying.awaited" class="awaited" data-testid="awaited">
      {{ laying.awaited.words }} <span class="quiet">· Esc leaves it</span>
    </p>
  </div>
</template>

<style scoped>
.table {
  height: 100%;
}
.awaited {
  position: absolute;
  top: 16px;
  left: 50%;
  transform: translateX(-50%);
  padding: 6px 14px;
  background: var(--ink);
  color: var(--sheet);
  border-radius: 3px;
  pointer-events: none;
}
.awaited .quiet {
  color: inherit;
  opacity: 0.75;
}
</style>
