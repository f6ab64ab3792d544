/** Follows a pointer from press to release, with Escape to give up. It ends exactly once, whatever happens to the pointer. */

export interface DragHandlers {
  move: (event: PointerEvent) => void;
  /** `moved` tells whether the pointer went further than a click does. */
  end: (moved: boolean) => void;
  /** Given up: by Escape, by the system that takes the pointer away, or because the element has gone. */
  cancel?: () => void;
}

const CLICK_REACH_PX = 3;

export function followPointer(down: PointerEvent, handlers: DragHandlers): void {
  const target = down.currentTarget as HTMLElement;
  const { pointerId } = down;
  // From the first moment: a quick hand has left the element before it has moved far enough to drag.
  target.setPointerCapture(pointerId);
  const listening = new AbortController();
  const { signal } = listening;
  let moved = false;
  const own = (action: (event: PointerEvent) => void) => (event: PointerEvent) => {
    if (event.pointerId === pointerId) action(event);
  };
  const stop = () => {
    listening.abort();
    if (target.hasPointerCapture(pointerId)) target.releasePointerCapture(pointerId);
  };
  const end = () => {
    stop();
    handlers.end(moved);
  };
  const giveUp = () => {
    stop();
    (handlers.cancel ?? (() => handlers.end(moved)))();
  };
  target.addEventListener(
    'pointermove',
    own((event) => {
      moved ||= Math.hypot(event.clientX - down.clientX, event.clientY - down.clientY) > CLICK_REACH_PX;
      if (moved) handlers.move(event);
    }),
    { signal },
  );
  target.addEventListener('pointerup', own(end), { signal });
  target.addEventListener('pointercancel', own(giveUp), { signal });
  // An element that goes loses its pointer; the event then comes to the document.
  document.addEventListener('lostpointercapture', own(giveUp), { signal });
  target.addEventListener('lostpointercapture', own(giveUp), { signal });
  window.addEventListener(
    'keydown',
    (event) => {
      if (event.key !== 'Escape') return;
      event.stopPropagation();
      giveUp();
    },
    { signal, capture: true },
  );
}

/** Where a pointer is inside the element it was pressed on. */
export function localPoint(
  event: PointerEvent | WheelEvent | MouseEvent,
  element: HTMLElement,
): { x: number; y: number } {
  const box = element.getBoundingClientRect();
  return { x: event.clientX - box.left, y: event.clientY - box.top };
}
