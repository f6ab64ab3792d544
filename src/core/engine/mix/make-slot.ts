/** The place of an effect, made of its fragment; of paths side by side with places in them. */
import type { EffectFragment } from '../plan/fragments.ts';
import { makeEffect } from './effects/index.ts';
import { PathsEffect } from './effects/paths.ts';
import { EffectSlot } from './slot.ts';

export function makeSlot(fragment: EffectFragment, sampleRate: number): EffectSlot {
  if (fragment.kind !== 'paths') return new EffectSlot(fragment, makeEffect(fragment.kind, sampleRate), sampleRate);
  const paths = new PathsEffect((one) => makeSlot(one, sampleRate));
  return new EffectSlot(fragment, paths, sampleRate, paths.rows);
}
