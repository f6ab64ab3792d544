/** The strips of the pattern under the pointer, however they are laid out: picked, moved, lengthened, put down, heard. */
import { computed, shallowRef, type Ref } from 'vue';
import { sourceFramesPerTick } from '#core/engine/plan/renderings.ts';
import { snapToGrid } from '#core/patterns/grid.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import type { PlacedZone } from '#core/queries/zones.ts';
import { useEditing } from '../../stores/editing.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import { useStripEdits } from '../../stores/strip-edits.ts';
import { useTransport } from '../../stores/transport.ts';

/** Shortest that a strip is dragged to without a grid, in ticks. */
const MIN_LENGTH_TICKS = 30;

/** @param ticksAt musical time at a place sideways in the canvas */
export function useStrips(canvas: Ref<HTMLCanvasElement | null>, ticksAt: (x: number) => number) {
  const project = useProject();
  const session = useSession();
  const transport = useTransport();
  const editing = useEditing();
  const strips = useStripEdits();
  /** While strips are dragged: by how many ticks, or to which length. Nothing is changed before they are let go. */
  const drag = shallowRef<{ moveTicks: number } | { lengthTicks: number } | null>(null);

  const shownEvents = computed(() => {
    const dragged = drag.value;
    if (!dragged) return session.events;
    return session.events.map((event) => {
      if (!session.eventIds.includes(event.id)) return event;
      if ('lengthTicks' in dragged) return { ...event, lengthTicks: dragged.lengthTicks };
      return { ...event, positionTicks: Math.max(0, event.positionTicks + dragged.moveTicks) };
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
    let copies = false;
    followPointer(event, {
      move: (moved) => {
        copies = moved.ctrlKey || moved.metaKey;
        const at = ticksUnder(moved);
        const grid = gridOf(moved);
        if (zone === 'strip') {
          drag.value = { moveTicks: snapToGrid(grabbed.positionTicks + at - startTicks, grid) - grabbed.positionTicks };
        } else {
          const end = snapToGrid(grabbed.positionTicks + grabbed.lengthTicks + at - startTicks, grid);
          drag.value = { lengthTicks: Math.max(grid ?? MIN_LENGTH_TICKS, end - grabbed.positionTicks) };
        }
      },
      end: (moved) => {
        const dragged = drag.value;
        drag.value = null;
        if (moved && dragged && 'moveTicks' in dragged) {
          if (dragged.moveTicks === 0) return;
          if (copies) strips.copyBy(dragged.moveTicks);
          else editing.move(dragged.moveTicks);
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

  /** Puts a slice down for as long as it sounds, to the grid, one step at least. */
  function placeAt({ at, zone }: PlacedZone, positionTicks: number): void {
    if (positionTicks < 0 || positionTicks >= session.lengthTicks) return;
    const sounding = (at.endFrame - at.startFrame) / framesPerTick.value;
    const grid = session.gridStepTicks;
    editing.place(zone.id, positionTicks, grid === null ? sounding : Math.max(grid, snapToGrid(sounding, grid)));
  }

  return { drag, shownEvents, framesPerTick, ticksUnder, gridOf, dragStrip, hearZone, hearSlice, placeAt };
}
