/** A point of a curve on its way with the pointer: one step of undo, however far it goes. */
import type { Gesture } from '../stores/document/gesture.ts';
import { followPointer, localPoint } from './use-drag.ts';

export function dragPoint(
  event: PointerEvent,
  {
    box,
    gesture,
    move,
    done,
  }: {
    /** What the places of the pointer are told in. */
    box: HTMLElement;
    gesture: Gesture | null;
    move: (at: { x: number; y: number }, from: { x: number; y: number }) => void;
    done?: () => void;
  },
): void {
  const from = localPoint(event, box);
  followPointer(event, {
    move: (moved) => {
      if (!gesture || gesture.isOpen) move(localPoint(moved, box), from);
    },
    end: () => {
      done?.();
      gesture?.commit();
    },
    cancel: () => {
      done?.();
      gesture?.cancel();
    },
  });
}
