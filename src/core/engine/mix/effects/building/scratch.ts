/**
 * Places to work in, of one control step: effects are worked out one after another, so they share them. Numbers that go
 * through arrays are not boxed on their way from function to function, and leave no garbage.
 */
import { CONTROL_FRAMES } from '../../../control/control-step.ts';

export const scratch = (): Float64Array => new Float64Array(CONTROL_FRAMES);
