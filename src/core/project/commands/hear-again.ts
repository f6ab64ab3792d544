/** Roles of slices as newer ears hear them. */
import { heardOf, type Heard } from '../heard.ts';
import { withCut, type Command } from './command.ts';

/** Takes what is said of slices anew; what somebody has put right stays right. */
export const hearAgain: Command<{ cutId: string; heard: Readonly<Record<string, Heard>> }> = (
  document,
  { cutId, heard },
) =>
  withCut(document, cutId, (cut) => {
    const slices = Object.entries(cut.slices).map(([id, slice]) => {
      const { secondRole: _second, earsVersion: _version, ...rest } = slice;
      const anew = heard[id];
      return [id, slice.roleByHand || !anew ? slice : { ...rest, ...heardOf(anew) }] as const;
    });
    return { ...cut, slices: Object.fromEntries(slices) };
  });
