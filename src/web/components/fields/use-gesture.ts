/** One gesture of a component that tells when it begins and ends: what is put meanwhile is one step of undo. */
import { useProject } from '../../stores/document/project.ts';
import type { Gesture } from '../../stores/document/gesture.ts';

export function useGesture(label: string) {
  const project = useProject();
  let gesture: Gesture | null = null;
  const ended = (end: (one: Gesture) => void) => () => {
    if (gesture) end(gesture);
    gesture = null;
  };
  return {
    begin: () => void (gesture = project.begin(label)),
    commit: ended((one) => one.commit()),
    cancel: ended((one) => one.cancel()),
    /** It was taken away while the pointer still moves: what comes now is no longer wanted. */
    isLeft: () => gesture !== null && !gesture.isOpen,
  };
}
