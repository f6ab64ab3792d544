/** Two fingers on a canvas: how far they moved apart, where their middle is, and how far it went sideways. */

type OnPinch = (factor: number, middleX: number, movedX: number) => void;

interface Fingers {
  distance: number;
  middleX: number;
}

/** Gives the two touch handlers; `onPinch` is called with the change since the last move. */
export function usePinch(onPinch: OnPinch): { start: (event: TouchEvent) => void; move: (event: TouchEvent) => void } {
  let last: Fingers | null = null;
  return {
    start: (event) => {
      last = fingersOf(event);
      // What the first finger began (a click, a drag of a marker) is given up.
      if (last) event.target?.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true }));
    },
    move: (event) => {
      const now = fingersOf(event);
      if (last && now) {
        event.preventDefault();
        onPinch(now.distance / last.distance, now.middleX, now.middleX - last.middleX);
      }
      last = now;
    },
  };
}

function fingersOf(event: TouchEvent): Fingers | null {
  const [first, second] = event.touches;
  if (!first || !second || event.touches.length !== 2) return null;
  const left = (event.currentTarget as HTMLElement).getBoundingClientRect().left;
  return {
    distance: Math.max(1, Math.hypot(first.clientX - second.clientX, first.clientY - second.clientY)),
    middleX: (first.clientX + second.clientX) / 2 - left,
  };
}
