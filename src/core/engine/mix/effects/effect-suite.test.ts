/** The laws of effect.ts, for every effect there is. */
import { describe, expect, it } from 'vitest';
import { firstDifference } from '../../../../../tests/support/signals.ts';
import { EFFECT_KINDS, EFFECT_ROWS, type EffectKind } from '../../../params/effects.ts';
import { packValue, packValues, type Row, type Rows } from '../../../params/row.ts';
import { seededRandom } from '../../../units/random.ts';
import { makeEffect } from './index.ts';

const RATE = 44100;
const FRAMES = 20_000;

function noise(seed: number): { left: Float32Array; right: Float32Array } {
  const random = seededRandom(seed);
  const side = () => Float32Array.from({ length: FRAMES }, () => random() - 0.5);
  return { left: side(), right: side() };
}

/** Settings far from the defaults. */
function unusual(rows: Rows): Float64Array {
  return Float64Array.from(Object.values(rows), (row: Row) => {
    if (row.kind === 'number') return Math.sqrt(Math.max(row.min, 1e-3) * row.max);
    return packValue(row, row.kind === 'choice' ? row.choices.at(-1)!.value : !row.default);
  });
}

function run(kind: EffectKind, values: Float64Array, block: number, effect = makeEffect(kind, values, RATE)) {
  const { left, right } = noise(5);
  const side = noise(9);
  for (let at = 0; at < FRAMES; at += block) {
    const count = Math.min(block, FRAMES - at);
    effect.process({ left: left.subarray(at, at + count), right: right.subarray(at, at + count) }, count, at, side);
  }
  return { left, right };
}

describe.each(EFFECT_KINDS)('the effect %s', (kind) => {
  const rows: Rows = EFFECT_ROWS[kind];
  const settings = [packValues(rows, {}), unusual(rows)];

  it('gives silence for silence', () => {
    for (const values of settings) {
      const bus = { left: new Float32Array(FRAMES), right: new Float32Array(FRAMES) };
      makeEffect(kind, values, RATE).process(bus, FRAMES, 0, null);
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
      for (const block of [1, 32, 128, 1000]) {
        const other = run(kind, values, block);
        expect(firstDifference(other.left, whole.left)).toBe(-1);
        expect(firstDifference(other.right, whole.right)).toBe(-1);
      }
    }
  });

  it('is as new after a reset', () => {
    const effect = makeEffect(kind, settings[1]!, RATE);
    const first = run(kind, settings[1]!, 128, effect);
    effect.reset();
    const second = run(kind, settings[1]!, 128, effect);
    expect(firstDifference(first.left, second.left)).toBe(-1);
  });

  it('tells how late its sound comes: a click comes out no earlier', () => {
    const effect = makeEffect(kind, settings[0]!, RATE);
    const bus = { left: new Float32Array(FRAMES), right: new Float32Array(FRAMES) };
    bus.left[0] = 1;
    effect.process(bus, FRAMES, 0, null);
    expect(bus.left.findIndex((value) => Math.abs(value) > 1e-6)).toBe(effect.latencyFrames);
  });

  it('takes every setting without a click', () => {
    Object.values(rows).forEach((row, slot) => {
      if (row.kind !== 'number') return;
      const effect = makeEffect(kind, settings[0]!, RATE);
      const bus = { left: new Float32Array(FRAMES), right: new Float32Array(FRAMES) };
      bus.left.forEach((_, i) => (bus.left[i] = Math.sin((2 * Math.PI * 100 * i) / RATE)));
      const half = { left: bus.left.subarray(0, 10_000), right: bus.right.subarray(0, 10_000) };
      effect.process(half, 10_000, 0, null);
      effect.setValue(slot, settings[1]![slot]!);
      const rest = { left: bus.left.subarray(10_000), right: bus.right.subarray(10_000) };
      effect.process(rest, 10_000, 10_000, null);
      let steepest = 0;
      for (let i = 9_900; i < 10_600; i++) steepest = Math.max(steepest, Math.abs(bus.left[i]! - bus.left[i - 1]!));
      // A sine of 100 Hz moves by 0.0142 a frame at most; ten times that would be heard as a click.
      expect(steepest).toBeLessThan(0.1);
    });
  });

  it('allocates nothing while it runs', () => {
    const effect = makeEffect(kind, settings[1]!, RATE);
    const { left, right } = noise(5);
    const bus = { left: left.subarray(0, 128), right: right.subarray(0, 128) };
    const blocks = (count: number) => {
      for (let block = 0; block < count; block++) effect.process(bus, 128, block * 128, null);
    };
    // Until the code has been compiled numbers live on the heap.
    blocks(4_000);
    const before = process.memoryUsage().heapUsed;
    blocks(4_000);
    // A single object a block would be 4,000 times 16 bytes at least.
    expect(process.memoryUsage().heapUsed - before).toBeLessThan(60_000);
  });
});
