/** A box drawn round strips to choose them, by a drag that begins beside them. */
import { shallowRef, type Ref } from 'vue';
import { stripsInBox, type Box, type StripBox } from '../../canvas/pattern-layout.ts';
import type { Stage } from '../../canvas/use-band-canvas.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useSession } from '../../stores/document/session.ts';

export function useStripBox(canvas: Ref<HTMLCanvasElement | null>, strips: () => readonly StripBox[]) {
  const session = useSession();
  /** In pixels of the canvas; null while none is drawn. */
  const box = shallowRef<Box | null>(null);

  /** With Shift held, what is in it is added to what is chosen. */
  function drawBox(event: PointerEvent): void {
    const from = localPoint(event, canvas.value!);
    followPointer(event, {
      move: (moved) => {
        const to = localPoint(moved, canvas.value!);
        box.value = {
          left: Math.min(from.x, to.x),
          right: Math.max(from.x, to.x),
          top: Math.min(from.y, to.y),
          bottom: Math.max(from.y, to.y),
        };
      },
      end: () => {
        const drawn = box.value;
        box.value = null;
        if (drawn) session.selectEvents(stripsInBox(strips(), drawn), event.shiftKey);
        else if (!event.shiftKey) session.selectEvents([]);
      },
      cancel: () => (box.value = null),
    });
  }

  function paintBox({ context, inks }: Stage): void {
    if (!box.value) return;
    const { left, right, top, bottom } = box.value;
    context.strokeStyle = inks.sea;
    context.lineWidth = 1;
    context.setLineDash([4, 3]);
    context.strokeRect(left, top, right - left, bottom - top);
    context.setLineDash([]);
  }

  return { isDrawing: () => box.value !== null, drawBox, paintBox };
}
