/** Makes effects by their kind. */
import type { EffectKind } from '../../../params/effects.ts';
import type { Effect } from './effect.ts';
import { FilterEffect } from './filter.ts';

const makers: Record<EffectKind, (values: Float64Array, sampleRate: number) => Effect> = {
  filter: (values, sampleRate) => new FilterEffect(values, sampleRate),
};

/** @param values in the order of the kind's rows */
export function makeEffect(kind: EffectKind, values: Float64Array, sampleRate: number): Effect {
  return makers[kind](values, sampleRate);
}
