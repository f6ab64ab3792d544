/** Makes effects by their kind. */
import type { EffectKind } from '../../../params/effects.ts';
import type { Effect } from './effect.ts';
import { FilterEffect } from './filter.ts';

const makers: Record<EffectKind, (sampleRate: number) => Effect> = {
  filter: (sampleRate) => new FilterEffect(sampleRate),
};

export function makeEffect(kind: EffectKind, sampleRate: number): Effect {
  return makers[kind](sampleRate);
}
