/** The grid on which what moves is looked at: absolute, so that the size of the blocks changes nothing. */

/** Frames between two looks. */
export const CONTROL_FRAMES = 32;

/** Frames from a frame to the next look; a whole step where a look is due. @param gridFrame a frame that is looked at */
export function framesToLook(frame: number, gridFrame: number): number {
  const onGrid = (frame - gridFrame) % CONTROL_FRAMES;
  return CONTROL_FRAMES - (onGrid < 0 ? onGrid + CONTROL_FRAMES : onGrid);
}
