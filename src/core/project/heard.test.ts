import { describe, expect, it } from 'vitest';
import { loopProject, unwrap } from '../../../tests/support/documents.ts';
import { eightStepLoop } from '../../../tests/support/signals.ts';
import { EARS_VERSION } from '../analysis/ears/ears-version.ts';
import { openDocument } from '../document/validate.ts';
import { hearAgain } from './commands/hear-again.ts';
import { setSliceRole } from './commands/slices.ts';
import { heardOf, isOldGuess } from './heard.ts';

describe('guesses of roles', () => {
  const { audio, starts } = eightStepLoop();
  it('know which ears made them, and are told from older ones', () => {
    const { document, cutId } = loopProject(audio, starts);
    const slices = Object.values(document.cuts[cutId]!.slices);
    expect(slices.every(({ earsVersion }) => earsVersion === EARS_VERSION)).toBe(true);
    expect(slices.some(isOldGuess)).toBe(false);
    expect(isOldGuess({ roleByHand: false })).toBe(true);
    expect(isOldGuess({ roleByHand: false, earsVersion: EARS_VERSION - 1 })).toBe(true);
    expect(isOldGuess({ roleByHand: true })).toBe(false);
    expect(openDocument(JSON.parse(JSON.stringify(document)))).toBeTruthy();
  });

  it('are made anew without touching what was put right by hand, or anything else of a slice', () => {
    const { document, cutId, env } = loopProject(audio, starts);
    const [first, second] = Object.keys(document.cuts[cutId]!.slices) as [string, string];
    const right = unwrap(setSliceRole(document, { cutId, sliceIds: [first], role: 'bass' }, env));
    const heard = { role: 'clap', roleConfidence: 0.7, earsVersion: EARS_VERSION } as const;
    const after = unwrap(hearAgain(right, { cutId, heard: { [first]: heard, [second]: heard, gone: heard } }, env));
    const [was, is] = [right.cuts[cutId]!.slices, after.cuts[cutId]!.slices];
    expect(is[first]).toEqual(was[first]);
    const { secondRole: _second, ...rest } = was[second]!;
    expect(is[second]).toEqual({ ...rest, ...heard });
  });

  it('leave out what is not known', () => {
    expect(heardOf({ role: 'kick', roleConfidence: 1 })).toEqual({ role: 'kick', roleConfidence: 1 });
  });
});
