/** Sounds through an effect, as a channel puts them through it. */
import { CONTROL_FRAMES } from '#core/engine/control/control-step.ts';
import { makeSlot } from '#core/engine/mix/make-slot.ts';
import type { EffectSlot } from '#core/engine/mix/slot.ts';
import type { Moment, StereoBus } from '#core/engine/mix/effects/effect.ts';
import { EFFECT_ROWS, type EffectKind } from '#core/params/effects.ts';
import { packValues, type Rows } from '#core/params/row.ts';
import { momentAt } from './mixing.ts';

export const RATE = 44_100;

/**
 * What comes out of an effect, all wet.
 * @param side what it listens to
 * @param change called before each control step, with its first frame
 */
export function through(
  kind: EffectKind,
  sparse: object,
  input: Float32Array | StereoBus,
  {
    side = null,
    moment = {},
    change,
  }: { side?: StereoBus | null; moment?: Partial<Moment>; change?: (slot: EffectSlot, frame: number) => void } = {},
): { left: Float32Array; right: Float32Array; slot: EffectSlot } {
  const rows: Rows = EFFECT_ROWS[kind];
  const values = packValues(rows, { wet: 1, ...sparse });
  const slot = makeSlot({ id: kind, kind, bypassed: false, sideChannelId: null, values }, RATE);
  slot.arrive();
  const left = 'left' in input ? input.left.slice() : input.slice();
  const right = 'left' in input ? input.right.slice() : input.slice();
  for (let at = 0; at < left.length; at += CONTROL_FRAMES) {
    change?.(slot, at);
    const count = Math.min(CONTROL_FRAMES, left.length - at);
    const part = (samples: Float32Array) => samples.subarray(at, at + count);
    slot.side = side && { given: { left: part(side.left), right: part(side.right) } };
    slot.process({ left: part(left), right: part(right) }, 0, count, { ...momentAt(at), ...moment });
  }
  return { left, right, slot };
}

export function sine(hz: number, frames: number, level = 1): Float32Array {
  return Float32Array.from({ length: frames }, (_, i) => level * Math.sin((2 * Math.PI * hz * i) / RATE));
}

export function click(frames: number, level = 1, at = 0): Float32Array {
  const samples = new Float32Array(frames);
  samples[at] = level;
  return samples;
}

export function rms(samples: Float32Array, from = 0, to = samples.length): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += samples[i]! ** 2;
  return Math.sqrt(sum / (to - from));
}

export const dB = (gain: number): number => 20 * Math.log10(Math.max(1e-12, gain));
