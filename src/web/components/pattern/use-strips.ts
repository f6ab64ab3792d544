/** The strips of the pattern under the pointer, however they are laid out: picked, moved, lengthened, put down, heard. */
import { computed, shallowRef, type Ref } from 'vue';
import { sourceFramesPerTick } from '#core/queries/following.ts';
import { snapToGrid } from '#core/patterns/grid.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { padsOf, type PlacedZone } from '#core/queries/zones.ts';
import { NO_SHIFT, useEditing, type RowShift } from '../../stores/document/editing.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { useStripEdits } from '../../stores/pattern/strip-edits.ts';
import { useTransport } from '../../stores/sound/transport.ts';

/** Shortest that a strip is dragged to without a grid, in ticks. */
const MIN_LENGTH_TICKS = 30;
/** A new note without a grid. */
const NOTE_TICKS = 240;

/**
 * @param ticksAt musical time at a place sideways in the canvas
 * @param shiftBetween what dragging the chosen strips from one height to another does to them
 */
export function useStrips(
  canvas: Ref<HTMLCanvasElement | null>,
  ticksAt: (x: number) => number,
  shiftBetween: (fromY: number, toY: number) => RowShift = () => NO_SHIFT,
) {
  const project = useProject();
  const session = useSession();
  const transport = useTransport();
  const editing = useEditing();
  const strips = useStripEdits();
  /** While strips are dragged: by how many ticks, or to which length. Nothing is changed before they are let go. */
  const drag = shallowRef<{ moveTicks: number; shift: RowShift } | { lengthTicks: number } | null>(null);
  const chosen = computed(() => new Set(session.eventIds));

  const shownEvents = computed(() => {
    const dragged = drag.value;
    if (!dragged) return session.events;
    return session.events.map((event) => {
      if (!chosen.value.has(event.id)) return event;
      if ('lengthTicks' in dragged) return { ...event, lengthTicks: dragged.lengthTicks };
      const { moveTicks } = dragged;
      const { byCents, zoneIds } = dragged.shift;
      const positionTicks = Math.max(0, event.positionTicks + moveTicks);
      const moved = { ...event, positionTicks, zoneId: zoneIds.get(event.zoneId) ?? event.zoneId };
      if (byCents === 0) return moved;
      return { ...moved, values: { ...event.values, tuneCents: (event.values.tuneCents ?? 0) + byCents } };
    });
  });
  const framesPerTick = computed(() =>
    project.document && session.cut ? sourceFramesPerTick(project.document, session.cut) : 1,
  );

  const ticksUnder = (event: MouseEvent) => ticksAt(localPoint(event, canvas.value!).x);
  const gridOf = (event: MouseEvent) => (event.altKey ? null : session.gridStepTicks);

  /** Moves strips, or their right edge; with Ctrl held when they are let go, copies of them. */
  function dragStrip(event: PointerEvent, eventId: string, zone: 'strip' | 'edge'): void {
    const wasSelected = session.eventIds.includes(eventId);
    const adding = event.shiftKey || event.ctrlKey || event.metaKey;
    if (!wasSelected) session.selectEvents([eventId], adding);
    const grabbed = session.events.find((one) => one.id === eventId)!;
    const startTicks = ticksUnder(event);
    const heightOf = (at: MouseEvent) => localPoint(at, canvas.value!).y;
    const startY = heightOf(event);
    let heardId = grabbed.zoneId;
    let copies = false;
    followPointer(event, {
      move: (moved) => {
        copies = moved.ctrlKey || moved.metaKey;
        const at = ticksUnder(moved);
        const grid = gridOf(moved);
        if (zone === 'strip') {
          const moveTicks = snapToGrid(grabbed.positionTicks + at - startTicks, grid) - grabbed.positionTicks;
          const shift = shiftBetween(startY, heightOf(moved));
          drag.value = { moveTicks, shift };
          const zoneId = shift.zoneIds.get(grabbed.zoneId) ?? grabbed.zoneId;
          if (zoneId !== heardId) hearZone((heardId = zoneId));
        } else {
          const end = snapToGrid(grabbed.positionTicks + grabbed.lengthTicks + at - startTicks, grid);
          drag.value = { lengthTicks: Math.max(grid ?? MIN_LENGTH_TICKS, end - grabbed.positionTicks) };
        }
      },
      end: (moved) => {
        const dragged = drag.value;
        drag.value = null;
        if (moved && dragged && 'moveTicks' in dragged) {
          const { moveTicks, shift } = dragged;
          const stays = moveTicks === 0 && shift.byCents === 0 && shift.zoneIds.size === 0;
          if (copies && !stays) strips.copyBy(moveTicks, shift);
          else editing.move(moveTicks, shift);
        } else if (moved && dragged && 'lengthTicks' in dragged) editing.resize(dragged.lengthTicks);
        else if (!adding) {
          session.selectEvents([eventId]);
          hearZone(grabbed.zoneId);
        } else if (wasSelected) session.selectEvents([eventId], true);
      },
      cancel: () => (drag.value = null),
    });
  }

  function hearZone(zoneId: string): void {
    if (!transport.playing) transport.playZone(zoneId);
  }

  function hearSlice(sliceId: string): void {
    const zone = session.zoneBySlice.get(sliceId)?.zone;
    if (zone) hearZone(zone.id);
  }

  /** Puts a slice down for as long as it sounds, to the grid, one step at least; a note lasts one step. */
  function placeAt({ at, zone, cut }: PlacedZone, positionTicks: number, tuneCents: number | null = null): void {
    if (positionTicks < 0 || positionTicks >= session.lengthTicks) return;
    const sounding = (at.endFrame - at.startFrame) / sourceFramesPerTick(project.document!, cut, at);
    const grid = session.gridStepTicks;
    const whole = grid === null ? sounding : Math.max(grid, snapToGrid(sounding, grid));
    const lengthTicks = tuneCents === null ? whole : (grid ?? Math.min(sounding, NOTE_TICKS));
    // A pad of several layers is pressed; a sound by itself is played.
    const onKey = (padsOf(session.zones).get(zone.id)?.length ?? 1) > 1 ? { onKey: true } : {};
    editing.place(zone.id, positionTicks, lengthTicks, tuneCents ? { ...onKey, tuneCents } : onKey);
  }

  return { drag, shownEvents, framesPerTick, ticksUnder, gridOf, dragStrip, hearZone, hearSlice, placeAt };
}
