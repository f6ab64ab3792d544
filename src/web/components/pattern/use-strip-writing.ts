/**
 * Writing with the pointer in rows: a strip in each step of the grid that it passes; begun on a strip, it takes those away
 * that it passes. One drag is one undo step.
 */
import type { Ref } from 'vue';
import { gridLineBefore } from '#core/patterns/grid.ts';
import { removeEvents } from '#core/project/commands/events.ts';
import { rowsSpotAt, rowsTicks, type RowsLayout } from '../../canvas/rows-layout.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useEditing } from '../../stores/document/editing.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';

type Point = ReturnType<typeof localPoint>;

/** A step where the grid is free, in ticks. */
const FREE_STEP_TICKS = 240;
/** A quick hand leaves out no step: so far apart its way is looked at, in pixels. */
const LOOK_PX = 4;
/** A strip this little early is in the step that it is early for, in ticks. */
const EARLY_TICKS = 60;

/**
 * @param putInRow puts a strip of so many ticks into a row
 * @param hearRow is called once for each row that is written into
 */
export function useStripWriting(
  canvas: Ref<HTMLCanvasElement | null>,
  layout: () => RowsLayout,
  putInRow: (rowId: string, positionTicks: number, lengthTicks: number) => void,
  hearRow: (rowId: string) => void,
) {
  const project = useProject();
  const session = useSession();
  const editing = useEditing();
  let heardId: string | null = null;

  function putAt({ x, y }: Point): void {
    const spot = rowsSpotAt(layout(), x, y);
    const ticks = rowsTicks(layout(), x);
    if (spot.zone !== 'empty' || ticks < 0 || ticks >= session.lengthTicks) return;
    const step = session.gridStepTicks ?? FREE_STEP_TICKS;
    const line = session.gridStepTicks === null ? ticks : gridLineBefore(ticks, step);
    const isTaken = layout().strips.some(({ rowId, event: { positionTicks } }) => {
      const after = positionTicks - line;
      return rowId === spot.rowId && after >= -EARLY_TICKS && after < step - EARLY_TICKS;
    });
    if (isTaken) return;
    putInRow(spot.rowId, line, step);
    if (spot.rowId !== heardId) hearRow((heardId = spot.rowId));
  }

  function takeAt({ x, y }: Point): void {
    const spot = rowsSpotAt(layout(), x, y);
    if (spot.zone !== 'strip' && spot.zone !== 'edge') return;
    const eventIds = [spot.strip.event.id];
    editing.editPattern('write strips', (patternId) => project.run('', removeEvents, { patternId, eventIds }));
  }

  function write(event: PointerEvent): void {
    const start = localPoint(event, canvas.value!);
    const gesture = project.begin('write strips');
    if (!gesture) return;
    // A home pattern is copied before anything in it is pointed at.
    editing.editPattern('write strips', () => undefined);
    const act = rowsSpotAt(layout(), start.x, start.y).zone === 'empty' ? putAt : takeAt;
    let last = start;
    heardId = null;
    act(start);
    followPointer(event, {
      move: (moved) => {
        if (!gesture.isOpen) return;
        const to = localPoint(moved, canvas.value!);
        const looks = Math.max(1, Math.ceil(Math.hypot(to.x - last.x, to.y - last.y) / LOOK_PX));
        for (let look = 1; look <= looks; look++) {
          const share = look / looks;
          act({ x: last.x + (to.x - last.x) * share, y: last.y + (to.y - last.y) * share });
        }
        last = to;
      },
      end: () => gesture.commit(),
      cancel: () => gesture.cancel(),
    });
  }

  return { write };
}
