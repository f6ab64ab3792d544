import { describe, expect, it } from 'vitest';
import { seededRandom } from '../units/random.ts';
import { CaptureSession, type CapturedTake, type CaptureEvent, type CaptureSettings } from './capture-session.ts';

const RATE = 48_000;
const USUAL: CaptureSettings = {
  openDb: null,
  closeDb: null,
  leastPauseMs: 140,
  preRollMs: 12,
  isStereo: false,
  isLevelled: false,
};

/** Noise at about -60 dB with clicks that ring, in seconds. */
function input(seconds: number, hits: readonly number[], peak = 0.5): Float32Array {
  const random = seededRandom(8);
  const out = Float32Array.from({ length: seconds * RATE }, () => 0.0017 * (2 * random() - 1));
  for (const at of hits) {
    const from = Math.round(at * RATE);
    for (let i = 0; i < 0.2 * RATE; i++) out[from + i]! += peak * Math.sin(i / 9) * Math.exp(-i / 1500);
  }
  return out;
}

function run(samples: Float32Array, settings: CaptureSettings, block = 1024) {
  const session = new CaptureSession(RATE, settings);
  const events: CaptureEvent[] = [];
  for (let at = 0; at < samples.length; at += block) {
    const part = samples.subarray(at, at + block);
    events.push(...session.feed([part, part.map((x) => -0.5 * x)]));
  }
  events.push(...session.end());
  const takes = events.flatMap((one) => (one.kind === 'take' ? [one.take] : []));
  return { events, takes };
}

describe('an input that is listened to', () => {
  const hits = [1.5, 2.25, 3.5];

  it('tells its floor and the lines that it suggests, then gives each hit with what came before', () => {
    const { events, takes } = run(input(5, hits), USUAL);
    const floor = events.find(({ kind }) => kind === 'floor') as CaptureEvent & { kind: 'floor' };
    // The mean of both sides: a quarter of what comes on the left.
    expect(floor.floorDb).toBeCloseTo(-60.2 - 12, 0);
    expect(floor.openDb).toBeCloseTo(floor.floorDb + 10, 6);
    expect(takes).toHaveLength(3);
    takes.forEach(({ atSeconds, startFrame, channels, endFrame }, place) => {
      expect(hits[place]! - atSeconds).toBeGreaterThanOrEqual(0);
      expect(hits[place]! - atSeconds).toBeLessThan(0.002);
      expect(startFrame).toBe(0.012 * RATE);
      expect(channels).toHaveLength(1);
      expect(channels[0]).toHaveLength(endFrame);
      expect(Math.abs(channels[0]!.at(-1)!)).toBeLessThan(1e-6);
    });
  });

  it('a hit while it still learns the floor is not lost', () => {
    const { takes } = run(input(4, [0.55, 2]), USUAL);
    expect(takes).toHaveLength(2);
    expect(takes[0]!.atSeconds).toBeCloseTo(0.55, 2);
  });

  it('keeps both sides, or levels, where wanted', () => {
    const stereo = run(input(3, [1.5]), { ...USUAL, isStereo: true }).takes[0]!;
    const peakOf = (samples: Float32Array) => samples.reduce((peak, x) => Math.max(peak, Math.abs(x)), 0);
    expect(peakOf(stereo.channels[1]!)).toBeCloseTo(0.5 * peakOf(stereo.channels[0]!), 4);
    const levelled = run(input(3, [1.5], 0.1), { ...USUAL, isLevelled: true }).takes[0]!;
    expect(peakOf(levelled.channels[0]!)).toBeCloseTo(10 ** (-1 / 20), 3);
  });

  it('gives the same takes whatever the blocks, up to when it hears of them', () => {
    const samples = input(5, hits);
    const facts = (takes: readonly CapturedTake[]) => takes.map(({ atSeconds, endFrame }) => [atSeconds, endFrame]);
    const whole = facts(run(samples, USUAL, 1024).takes);
    for (const block of [128, 999]) expect(facts(run(samples, USUAL, block).takes)).toEqual(whole);
  });

  it('an input that never falls silent is told, and a line under the floor does not hang', () => {
    const loud = input(45, []).map((x) => x * 200);
    const { events, takes } = run(loud, { ...USUAL, openDb: -70, closeDb: -80 });
    expect(events.filter(({ kind }) => kind === 'endless').length).toBeGreaterThanOrEqual(1);
    for (const { channels } of takes) expect(channels[0]!.length).toBeLessThanOrEqual(30 * RATE);
  });

  it('lines that lie the wrong way round are put right', () => {
    const { takes } = run(input(5, hits), { ...USUAL, openDb: -40, closeDb: -20 });
    expect(takes).toHaveLength(3);
  });
});
