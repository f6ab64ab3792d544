/** Follows a pointer from press to release, with Escape to give up. */

export interface DragHandlers {
  move: (event: PointerEvent) => void;
  /** `moved` tells whether the pointer went further than a click does. */
  end: (moved: boolean) => void;
  cancel?: () => void;
}

const CLICK_REACH_PX = 3;

export function followPointer(down: PointerEvent, handlers: DragHandlers): void {
  const target = down.currentTarget as HTMLElement;
  target.setPointerCapture(down.pointerId);
  let moved = false;
  const move = (event: PointerEvent) => {
    const far = Math.hypot(event.clientX - down.clientX, event.clientY - down.clientY) > CLICK_REACH_PX;
    moved ||= far;
    if (moved) handlers.move(event);
  };
  const stop = () => {
    target.removeEventListener('pointermove', move);
    target.removeEventListener('pointerup', up);
    target.removeEventListener('pointercancel', give);
    window.removeEventListener('keydown', escape, true);
  };
  const up = () => {
    stop();
    handlers.end(moved);
  };
  const give = () => {
    stop();
    (handlers.cancel ?? (() => handlers.end(moved)))();
  };
  const escape = (event: KeyboardEvent) => {
    if (event.key !== 'Escape') return;
    event.stopPropagation();
    give();
  };
  target.addEventListener('pointermove', move);
  target.addEventListener('pointerup', up);
  target.addEventListener('pointercancel', give);
  window.addEventListener('keydown', escape, true);
}

/** Where a pointer is inside the element it was pressed on. */
export function localPoint(
  event: PointerEvent | WheelEvent | MouseEvent,
  element: HTMLElement,
): { x: number; y: number } {
  const box = element.getBoundingClientRect();
  return { x: event.clientX - box.left, y: event.clientY - box.top };
}
