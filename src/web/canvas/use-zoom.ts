/** A stretch of frames looked at more closely: by the wheel (with Shift it scrolls), and by two fingers. */
import type { Ref } from 'vue';
import { localPoint } from './use-drag.ts';
import { usePinch } from './use-pinch.ts';
import { scrollBy, zoomAt, type ViewWindow } from './view-window.ts';

export interface Zoomed {
  canvas: Readonly<Ref<HTMLCanvasElement | null>>;
  viewed: Readonly<Ref<ViewWindow>>;
  /** Frames of the whole; 0 while nothing can be looked at. */
  frames: () => number;
  put: (window: ViewWindow) => void;
}

/** A notch of the wheel goes so much closer; a pinch on a pad comes as a wheel with Ctrl, in smaller steps. */
const CLOSER_A_PIXEL = 0.002;
const CLOSER_A_PINCHED_PIXEL = 0.01;

export function useZoom({ canvas, viewed, frames, put }: Zoomed) {
  function onWheel(event: WheelEvent): void {
    if (!canvas.value || frames() === 0) return;
    event.preventDefault();
    const width = canvas.value.clientWidth;
    if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
      const by = ((event.deltaX || event.deltaY) / width) * (viewed.value.endFrame - viewed.value.startFrame);
      put(scrollBy(viewed.value, by, frames()));
      return;
    }
    const factor = Math.exp(-event.deltaY * (event.ctrlKey ? CLOSER_A_PINCHED_PIXEL : CLOSER_A_PIXEL));
    put(zoomAt(viewed.value, factor, localPoint(event, canvas.value).x, width, frames()));
  }

  /** Two fingers: apart is closer, together is further, side by side scrolls. */
  const pinch = usePinch((factor, x, byPixels) => {
    if (!canvas.value || frames() === 0) return;
    const width = canvas.value.clientWidth;
    const zoomed = zoomAt(viewed.value, factor, x, width, frames());
    put(scrollBy(zoomed, (-byPixels / width) * (zoomed.endFrame - zoomed.startFrame), frames()));
  });

  return { onWheel, pinch };
}
