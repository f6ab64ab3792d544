import { describe, expect, it } from 'vitest';
import { LastOutput, withoutSilence } from './last-output.ts';

describe('the last of what went out', () => {
  it('is in order, and no more than it holds', () => {
    const last = new LastOutput(100, 1);
    const ramp = (from: number) => Float32Array.from({ length: 30 }, (_, i) => from + i);
    for (let block = 0; block < 7; block++) last.write(ramp(block * 30), ramp(-block * 30));
    const { left, right } = last.read();
    expect(left).toHaveLength(100);
    expect([...left]).toEqual(Array.from({ length: 100 }, (_, i) => 110 + i));
    expect(right).toHaveLength(100);
    const few = new LastOutput(100, 1);
    few.write(ramp(0), ramp(0));
    expect(few.read().left).toHaveLength(30);
  });

  it('begins with its first sound, and ends with its last', () => {
    const left = new Float32Array(1000);
    left[300] = 0.5;
    left[700] = -0.5;
    const found = withoutSilence({ left, right: new Float32Array(1000) }, 1000)!;
    expect(found.left).toHaveLength(701 - 280);
    expect(found.left[20]).toBe(0.5);
    expect(withoutSilence({ left: new Float32Array(9), right: new Float32Array(9) }, 1000)).toBeNull();
  });
});
