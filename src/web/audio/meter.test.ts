import { describe, expect, it } from 'vitest';
import { MeterBallistics } from './meter.ts';

describe('a level meter', () => {
  it('rises at once and falls 20 dB in 1.7 s', () => {
    const meter = new MeterBallistics();
    meter.take(0.5, 1000);
    expect(meter.shownDb).toBeCloseTo(-6.02, 2);
    meter.take(0, 1850);
    expect(meter.shownDb).toBeCloseTo(-16.02, 1);
    meter.take(1, 1860);
    expect(meter.shownDb).toBe(0);
  });

  it('holds its peak for some seconds, then lets it go to what is shown', () => {
    const meter = new MeterBallistics();
    meter.take(0.5, 0);
    for (let ms = 16; ms < 2400; ms += 16) meter.take(0.01, ms);
    expect(meter.heldDb).toBeCloseTo(-6.02, 2);
    meter.take(0.01, 2600);
    expect(meter.heldDb).toBeLessThan(-30);
  });

  it('remembers that it was over until it is told to forget; full scale is not over', () => {
    const meter = new MeterBallistics();
    meter.take(1, 0);
    expect(meter.isOver).toBe(false);
    meter.take(1.001, 16);
    meter.take(0, 32);
    expect(meter.isOver).toBe(true);
    meter.forget();
    expect(meter.isOver).toBe(false);
  });

  it('is silent without sound', () => {
    const meter = new MeterBallistics();
    meter.take(0, 5);
    expect(meter.shownDb).toBe(-Infinity);
  });
});
