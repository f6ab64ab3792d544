/** What stands on the way to keys, as the renderer takes it. */
import { intervalsOf } from '../../queries/helpers.ts';
import type { Helper } from '../../document/schema.ts';
import { textHash } from '../../units/hash.ts';
import type { HelperFragment } from './fragments.ts';

const NONE: readonly number[] = [];

export type HelperInputs = Omit<HelperFragment, 'values' | 'seed'>;
export type HelperShape = Omit<HelperFragment, 'values'>;

export function helperInputs(helper: Helper): HelperInputs {
  const { id, kind, bypassed, strengths = NONE } = helper;
  return { id, kind, isOn: !bypassed, intervals: kind === 'chord' ? intervalsOf(helper) : NONE, strengths };
}

export function helperShape(inputs: HelperInputs): HelperShape {
  return { ...inputs, seed: textHash(inputs.id) };
}
