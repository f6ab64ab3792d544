/** Markers under the pointer, in whatever window of the source: the whole of it, or a magnified piece. */
import type { Ref } from 'vue';
import { moveMarker } from '#core/project/commands/cut.ts';
import type { PlacedSlice } from '#core/queries/slices.ts';
import { frameToX, xToFrame, type ViewWindow } from '../../canvas/view-window.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useMarkers } from '../../stores/source/markers.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';

const MARKER_REACH_PX = 6;

export function useMarkerDrag(viewed: Ref<ViewWindow>, canvas: Ref<HTMLCanvasElement | null>) {
  const project = useProject();
  const session = useSession();
  const markers = useMarkers();

  function markerNear(x: number, width: number): PlacedSlice | null {
    let best: PlacedSlice | null = null;
    let distance = MARKER_REACH_PX;
    for (const at of session.placed) {
      const away = Math.abs(frameToX(viewed.value, at.startFrame, width) - x);
      if (away < distance) {
        best = at;
        distance = away;
      }
    }
    return best;
  }

  /** Drags the marker under the pointer; a click on it does what is given. */
  function dragMarker(event: PointerEvent, onClick: (at: PlacedSlice) => void): void {
    const element = canvas.value!;
    const cutId = session.cut!.id;
    const at = markerNear(localPoint(event, element).x, element.clientWidth)!;
    const sliceId = at.slice.id;
    // What is looked at stays, while it is dragged in.
    const window = viewed.value;
    session.selectSlices([sliceId]);
    const gesture = project.begin(`move slice ${at.index + 1}`);
    let free = event.altKey;
    followPointer(event, {
      move: (moved) => {
        if (!gesture?.isOpen) return;
        free = moved.altKey;
        const startFrame = xToFrame(window, localPoint(moved, element).x, element.clientWidth);
        project.run('', moveMarker, { cutId, sliceId, startFrame });
      },
      end: (moved) => {
        if (moved && !free && gesture) void markers.snapDropped(gesture, cutId, sliceId);
        else gesture?.commit();
        if (!moved) onClick(at);
      },
      cancel: () => gesture?.cancel(),
    });
  }

  return { markerNear, dragMarker };
}
