import { describe, expect, it } from 'vitest';
import { seededRandom } from '../units/random.ts';
import { InputGaps, type InputGap } from './input-gaps.ts';

const RATE = 48_000;

function noise(seconds: number, level: number, seed = 3): Float32Array {
  const random = seededRandom(seed);
  return Float32Array.from({ length: seconds * RATE }, () => level * (2 * random() - 1));
}

/** Fed by blocks of any size, both sides. */
function gapsOf(left: Float32Array, right = left, block = 1024): InputGap[] {
  const gaps = new InputGaps(RATE);
  const found: InputGap[] = [];
  for (let at = 0; at < left.length; at += block)
    found.push(...gaps.feed(left.subarray(at, at + block), right.subarray(at, at + block)));
  return found;
}

describe('gaps of an input', () => {
  it('are found where it breaks off and goes on, whatever the blocks', () => {
    const signal = noise(2, 0.001);
    signal.fill(0, 20_000, 20_480);
    signal.fill(0, 50_000, 52_880);
    const wanted = [
      { atFrame: 20_000, frames: 480 },
      { atFrame: 50_000, frames: 2880 },
    ];
    expect(gapsOf(signal)).toEqual(wanted);
    expect(gapsOf(signal, signal, 128)).toEqual(wanted);
    expect(gapsOf(signal, signal, 77)).toEqual(wanted);
  });

  it('are none where one side alone is silent, or single samples are', () => {
    const left = noise(1, 0.01);
    left.fill(0, 24_000, 29_000);
    expect(gapsOf(left, noise(1, 0.01, 4))).toEqual([]);
    const coarse = noise(1, 2.4 * 2 ** -15).map((x) => Math.trunc(x * 2 ** 15) / 2 ** 15);
    expect(gapsOf(coarse)).toEqual([]);
  });

  it('are none where a machine is silent between its hits, as digital ones are', () => {
    const hits = new Float32Array(4 * RATE);
    for (let hit = 0; hit < 8; hit++)
      for (let i = 0; i < RATE / 4; i++) {
        const x = 0.7 * Math.exp(-i / 900) * Math.cos(i / 9);
        hits[(hit * RATE) / 2 + i] = Math.round(x * 2 ** 15) / 2 ** 15;
      }
    expect(gapsOf(hits)).toEqual([]);
  });

  it('are none while it opens', () => {
    const signal = noise(1, 0.01);
    signal.fill(0, 900, 1341);
    signal.fill(0, 9000, 9882);
    expect(gapsOf(signal)).toEqual([]);
  });

  it('are none where it was off before, is off for long, or to the end', () => {
    const signal = noise(5, 0.01);
    signal.fill(0, 0, 5000);
    signal.fill(0, RATE, 3.5 * RATE);
    signal.fill(0, 4.5 * RATE);
    expect(gapsOf(signal)).toEqual([]);
  });
});
