/** Zoom and scroll of a source as arithmetic: which frames a width of pixels shows. */

/** A visible stretch of frames; fractions are allowed, so that zooming stays smooth. */
export interface ViewWindow {
  startFrame: number;
  endFrame: number;
}

/** Closest zoom: this many frames over the whole width. */
export const MIN_VISIBLE_FRAMES = 32;

/** The whole source. */
export function wholeWindow(frames: number): ViewWindow {
  return { startFrame: 0, endFrame: Math.max(1, frames) };
}

/** Pixel of a frame in a width. */
export function frameToX(window: ViewWindow, frame: number, width: number): number {
  return ((frame - window.startFrame) / (window.endFrame - window.startFrame)) * width;
}

/** Frame (fractional) under a pixel. */
export function xToFrame(window: ViewWindow, x: number, width: number): number {
  return window.startFrame + (x / width) * (window.endFrame - window.startFrame);
}

/** Zooms by a factor (above 1: closer) so that the frame under `x` stays there; never beyond the source. */
export function zoomAt(window: ViewWindow, factor: number, x: number, width: number, frames: number): ViewWindow {
  const visible = window.endFrame - window.startFrame;
  const wanted = Math.max(Math.min(MIN_VISIBLE_FRAMES, frames), Math.min(frames, visible / factor));
  const pivot = xToFrame(window, x, width);
  const startFrame = pivot - (x / width) * wanted;
  return moveInside({ startFrame, endFrame: startFrame + wanted }, frames);
}

/** Scrolls by frames, stopping at the ends. */
export function scrollBy(window: ViewWindow, byFrames: number, frames: number): ViewWindow {
  return moveInside({ startFrame: window.startFrame + byFrames, endFrame: window.endFrame + byFrames }, frames);
}

/** The window with a range filling most of it. */
export function zoomTo(startFrame: number, endFrame: number, frames: number): ViewWindow {
  const margin = (endFrame - startFrame) * 0.15;
  const length = Math.min(frames, Math.max(MIN_VISIBLE_FRAMES, endFrame - startFrame + 2 * margin));
  const start = (startFrame + endFrame) / 2 - length / 2;
  return moveInside({ startFrame: start, endFrame: start + length }, frames);
}

function moveInside(window: ViewWindow, frames: number): ViewWindow {
  const length = Math.min(frames, window.endFrame - window.startFrame);
  const startFrame = Math.max(0, Math.min(frames - length, window.startFrame));
  return { startFrame, endFrame: startFrame + length };
}
