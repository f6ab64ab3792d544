/** The laws of effect.ts, for every effect there is. */
import { describe, expect, it } from 'vitest';
import { momentAt } from '../../../../../tests/support/mixing.ts';
import { unusualValues } from '../../../../../tests/support/unusual-values.ts';
import { firstDifference } from '../../../../../tests/support/signals.ts';
import { EFFECT_KINDS, EFFECT_ROWS, SLOT, type EffectKind } from '../../../params/effects.ts';
import { packValues, type Rows } from '../../../params/row.ts';
import { seededRandom } from '../../../units/random.ts';
import { CONTROL_FRAMES, framesToLook } from '../../control/control-step.ts';
import { makeSlot } from '../make-slot.ts';
import type { EffectSlot } from '../slot.ts';
import type { EffectFragment } from '../../plan/fragments.ts';
import type { StereoBus } from './effect.ts';

const RATE = 44100;
const FRAMES = 20_000;

function noise(seed: number): { left: Float32Array; right: Float32Array } {
  const random = seededRandom(seed);
  const side = () => Float32Array.from({ length: FRAMES }, () => random() - 0.5);
  return { left: side(), right: side() };
}

/** Puts a signal through an effect in its slot, as a channel does: by control steps. */
function through(
  slot: EffectSlot,
  bus: StereoBus,
  block: number,
  from = 0,
  to = FRAMES,
  side: StereoBus | null = null,
) {
  slot.side = side && { given: side };
  const given = (offset: number) => side && { left: side.left.subarray(offset), right: side.right.subarray(offset) };
  for (let at = from; at < to;) {
    const framesToNext = framesToLook(at, 0);
    const count = Math.min(block, to - at, framesToNext);
    const part = { left: bus.left.subarray(at, at + count), right: bus.right.subarray(at, at + count) };
    slot.side = side && { given: given(at)! };
    slot.process(part, 0, count, momentAt(at));
    at += count;
  }
}

function fragmentOf(kind: EffectKind, values = packValues(EFFECT_ROWS[kind], {})): EffectFragment {
  return { id: kind, kind, bypassed: false, sideChannelId: null, values };
}

/** One that looks ahead beside others that do not; one path is the dry sound. */
const IN_PATHS = [[], [fragmentOf('limiter'), fragmentOf('drive')], [fragmentOf('echo'), fragmentOf('compressor')]];

function slotOf(kind: EffectKind, values: Float64Array): EffectSlot {
  const slot = makeSlot({ ...fragmentOf(kind, values), paths: kind === 'paths' ? IN_PATHS : [] }, RATE);
  slot.arrive();
  return slot;
}

function run(kind: EffectKind, values: Float64Array, block: number, slot = slotOf(kind, values)) {
  const bus = noise(5);
  through(slot, bus, block, 0, FRAMES, noise(9));
  return bus;
}

describe.each(EFFECT_KINDS)('the effect %s', (kind) => {
  const rows: Rows = EFFECT_ROWS[kind];
  const settings = [packValues(rows, {}), unusualValues(rows)];

  it('gives silence for silence', () => {
    for (const values of settings) {
      const bus = { left: new Float32Array(FRAMES), right: new Float32Array(FRAMES) };
      through(slotOf(kind, values), bus, 128);
      expect([...bus.left, ...bus.right].every((value) => value === 0)).toBe(true);
    }
  });

  it('does something, and stays within sense', () => {
    const { left } = run(kind, settings[1]!, 128);
    expect(firstDifference(left, noise(5).left)).toBeGreaterThanOrEqual(0);
    expect(left.every((value) => Number.isFinite(value) && Math.abs(value) < 20)).toBe(true);
  });

  it('gives the same whatever the size of the blocks', () => {
    for (const values of settings) {
      const whole = run(kind, values, FRAMES);
      for (const block of [1, 32, 127, 1000]) {
        const other = run(kind, values, block);
        expect(firstDifference(other.left, whole.left)).toBe(-1);
        expect(firstDifference(other.right, whole.right)).toBe(-1);
      }
    }
  });

  it('is as new after a reset', () => {
    // All wet: the dry sound waits in the slot, not in the effect.
    const values = settings[1]!.map((value, place) => (place === SLOT.wet ? 1 : value));
    const slot = slotOf(kind, values);
    const first = run(kind, values, 128, slot);
    slot.effect.reset();
    slot.effect.set(slot.owner.now);
    // What gives way to others goes on listening to them.
    if (kind === 'ducking') return;
    const second = run(kind, values, 128, slot);
    expect(firstDifference(first.left, second.left)).toBe(-1);
  });

  it('tells how late its sound comes: a click comes out no earlier, the dry one neither', () => {
    for (const wet of [1, 0.5]) {
      const slot = slotOf(kind, packValues(rows, { wet }));
      const bus = { left: new Float32Array(FRAMES), right: new Float32Array(FRAMES) };
      bus.left[0] = 1;
      through(slot, bus, 128);
      const first = bus.left.findIndex((value) => Math.abs(value) > 1e-6);
      if (wet === 1) expect(first).toBeGreaterThanOrEqual(slot.effect.latencyFrames);
      else expect(first).toBe(slot.effect.latencyFrames);
    }
  });

  it('sleeps when nothing sounds any more, and wakes as new', () => {
    const slot = slotOf(kind, settings[0]!);
    // What first goes in brings the settings, from which it knows how long it rings.
    const first = () => new Float32Array(CONTROL_FRAMES).fill(0.01);
    through(slot, { left: first(), right: first() }, 32, 0, 32);
    // What gives way to others goes on listening to them.
    if (kind === 'ducking') return;
    const long = Math.ceil(FRAMES + slot.effect.restFrames * 2 + 40_000);
    const bus = { left: new Float32Array(long), right: new Float32Array(long) };
    for (let i = 0; i < 2000; i++) bus.left[i] = bus.right[i] = Math.sin(i / 9);
    for (let i = 0; i < 2000; i++) bus.left[long - 2000 + i] = bus.right[long - 2000 + i] = Math.sin(i / 9);
    let calls = 0;
    const process = slot.effect.process.bind(slot.effect);
    slot.effect.process = (...args) => {
      calls++;
      process(...args);
    };
    const start = long - 2000 - ((long - 2000) % CONTROL_FRAMES);
    through(slot, bus, 128, 0, start);
    expect(calls * CONTROL_FRAMES).toBeLessThan(start);
    const asleep = calls;
    through(slot, bus, 128, start, long);
    expect(calls).toBeGreaterThan(asleep);
    expect(bus.left.slice(start - 500, start).every((value) => value === 0)).toBe(true);
    expect(bus.left.slice(start, long).some((value) => Math.abs(value) > 0.01)).toBe(true);
  });

  it('takes every setting without a click', () => {
    Object.values(rows).forEach((row, place) => {
      if (row.kind !== 'number') return;
      const slot = slotOf(kind, settings[0]!);
      const bus = { left: new Float32Array(FRAMES), right: new Float32Array(FRAMES) };
      bus.left.forEach((_, i) => (bus.left[i] = Math.sin((2 * Math.PI * 100 * i) / RATE)));
      through(slot, bus, 128, 0, 10_000);
      slot.owner.set(place, settings[1]![place]!);
      through(slot, bus, 128, 10_000);
      let steepest = 0;
      for (let i = 9_900; i < 10_600; i++) steepest = Math.max(steepest, Math.abs(bus.left[i]! - bus.left[i - 1]!));
      // A sine of 100 Hz moves by 0.0142 a frame at most; ten times that would be heard as a click, unless the effect
      // itself makes such steps.
      let own = 0;
      for (let i = 12_000; i < 20_000; i++) own = Math.max(own, Math.abs(bus.left[i]! - bus.left[i - 1]!));
      expect(steepest).toBeLessThan(Math.max(0.1, 1.5 * own));
    });
  });
});
