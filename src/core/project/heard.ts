/** What was heard of a slice, as slices keep it: a guess of its role, with the version of the ears that made it. */
import { EARS_VERSION } from '../analysis/ears/ears-version.ts';
import type { Slice } from '../document/schema.ts';

export type Heard = Pick<Slice, 'role' | 'roleConfidence' | 'secondRole' | 'earsVersion'>;

/** That part of what is known of a sound; what is not known is left out. */
export function heardOf({ role, roleConfidence, secondRole, earsVersion }: Heard): Heard {
  return { role, roleConfidence, ...(secondRole && { secondRole }), ...(earsVersion && { earsVersion }) };
}

/** A guess that newer ears would make anew; what was put right by hand is none. */
export function isOldGuess({ roleByHand, earsVersion }: Pick<Slice, 'roleByHand' | 'earsVersion'>): boolean {
  return !roleByHand && (earsVersion ?? 0) < EARS_VERSION;
}
