/**
 * Two canvases on top of each other: the picture, drawn again when what it shows changes, and the playhead, drawn every
 * frame while something sounds.
 */
import { onBeforeUnmount, onMounted, ReactiveEffect, shallowRef, type Ref } from 'vue';
import { engine } from '../audio/services.ts';
import { themeName } from '../theme/theme.ts';
import { isPictureDue } from './pictures.ts';
import { prepareCanvas, readInks, type InkSet } from './draw.ts';

export interface Stage {
  context: CanvasRenderingContext2D;
  width: number;
  height: number;
  inks: InkSet;
}

/** Is there a playhead to be drawn, or a sound to be shown? */
export function isSounding(): boolean {
  return engine.status.playing || engine.status.sounding.length > 0;
}

export function useBandCanvas(
  picture: Ref<HTMLCanvasElement | null>,
  overlay: Ref<HTMLCanvasElement | null>,
  drawPicture: (stage: Stage) => void,
  drawOverlay: (stage: Stage) => void,
  /** Is there something moving to be drawn? */
  isMoving = isSounding,
): { redraw: () => void } {
  // Neither is asked of the page when it draws: that would have it laid out anew, sixty times a second.
  const box = shallowRef({ width: 0, height: 0 });
  let inks: InkSet | null = null;
  let frame = 0;
  let isAsked = true;
  let isNotified = false;
  let overlayShown = false;

  const stageOf = (canvas: HTMLCanvasElement | null): Stage | null => {
    const { width, height } = box.value;
    const context = canvas && prepareCanvas(canvas, { width, height });
    return context && inks ? { context, width, height, inks } : null;
  };
  const redraw = () => {
    isAsked = true;
  };
  // The picture is drawn once a frame, however much of what it reads has changed, and only when that is another now.
  const drawing = new ReactiveEffect(() => {
    if (themeName.value && picture.value) inks = readInks(picture.value);
    const stage = stageOf(picture.value);
    if (stage) drawPicture(stage);
  });
  drawing.scheduler = () => {
    isNotified = true;
  };
  const tick = (timestamp: number) => {
    frame = requestAnimationFrame(tick);
    if (isAsked || (isNotified && drawing.dirty)) drawing.run();
    isAsked = isNotified = false;
    const active = isMoving();
    if (active && overlayShown && !isPictureDue(timestamp)) return;
    if (active || overlayShown) {
      const stage = stageOf(overlay.value);
      if (stage && active) drawOverlay(stage);
      overlayShown = active;
    }
  };
  let observer: ResizeObserver | undefined;

  onMounted(() => {
    observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      box.value = { width: Math.round(width), height: Math.round(height) };
      redraw();
    });
    if (picture.value) observer.observe(picture.value);
    void document.fonts.ready.then(redraw);
    frame = requestAnimationFrame(tick);
  });
  onBeforeUnmount(() => {
    cancelAnimationFrame(frame);
    observer?.disconnect();
    drawing.stop();
  });
  return { redraw };
}
