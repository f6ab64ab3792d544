/**
 * Two canvases on top of each other: the picture, drawn again when what it shows changes, and the playhead, drawn every
 * frame while something sounds.
 */
import { onBeforeUnmount, onMounted, ReactiveEffect, ref, type Ref } from 'vue';
import { engine } from '../audio/services.ts';
import { themeName } from '../theme/theme.ts';
import { prepareCanvas, readInks, type InkSet } from './draw.ts';

export interface Stage {
  context: CanvasRenderingContext2D;
  width: number;
  height: number;
  inks: InkSet;
}

export function useBandCanvas(
  picture: Ref<HTMLCanvasElement | null>,
  overlay: Ref<HTMLCanvasElement | null>,
  drawPicture: (stage: Stage) => void,
  drawOverlay: (stage: Stage) => void,
): { redraw: () => void } {
  const size = ref(0);
  let frame = 0;
  let dirty = true;
  let overlayShown = false;

  const stageOf = (canvas: HTMLCanvasElement | null): Stage | null => {
    const prepared = canvas && prepareCanvas(canvas);
    return prepared ? { ...prepared, inks: readInks(canvas) } : null;
  };
  const redraw = () => {
    dirty = true;
  };
  // What the picture reads makes it dirty when it changes; it is drawn once a frame, however much has changed.
  const drawing = new ReactiveEffect(() => {
    void [size.value, themeName.value];
    const stage = stageOf(picture.value);
    if (stage) drawPicture(stage);
  });
  drawing.scheduler = redraw;
  const tick = () => {
    frame = requestAnimationFrame(tick);
    if (dirty) {
      dirty = false;
      drawing.run();
    }
    const active = engine.status.playing || engine.status.sounding.length > 0;
    if (active || overlayShown) {
      const stage = stageOf(overlay.value);
      if (stage && active) drawOverlay(stage);
      overlayShown = active;
    }
  };
  let observer: ResizeObserver | undefined;

  onMounted(() => {
    observer = new ResizeObserver(() => {
      size.value++;
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
