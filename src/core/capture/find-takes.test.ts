/** Hits over floors of several kinds, made for this test: where they begin is known to the frame. */
import { describe, expect, it } from 'vitest';
import { seededRandom } from '../units/random.ts';
import { findTakes } from './find-takes.ts';
import { TakeFinder, type FoundTake } from './take-finder.ts';

const RATE = 44_100;
type Noise = 'white' | 'deep' | 'hum';

/** Noise of a level, in dB of full scale (mean square). */
function floorOf(kind: Noise, frames: number, levelDb: number, seed: number): Float32Array {
  const random = seededRandom(seed);
  const out = new Float32Array(frames);
  let [deep, power] = [0, 0];
  for (let i = 0; i < frames; i++) {
    const white = 2 * random() - 1;
    deep = 0.98 * deep + white;
    const hum = Math.sin((2 * Math.PI * 50 * i) / RATE) + 0.4 * Math.sin((2 * Math.PI * 150 * i) / RATE) + 0.02 * white;
    out[i] = kind === 'white' ? white : kind === 'deep' ? deep : hum;
    power += out[i]! ** 2;
  }
  const gain = 10 ** (levelDb / 20) / Math.sqrt(power / frames);
  return out.map((x) => x * gain);
}

/** A drum with an attack of some ms: a falling sine, or noise, that dies away. */
function hit(kind: 'kick' | 'snare' | 'hat', seed: number): Float32Array {
  const random = seededRandom(seed);
  const decay = { kick: 0.09, snare: 0.06, hat: 0.025 }[kind];
  const attack = { kick: 0.0025, snare: 0.0008, hat: 0.0003 }[kind] * RATE;
  let before = 0;
  return Float32Array.from({ length: Math.round(decay * 8 * RATE) }, (_, i) => {
    const white = 2 * random() - 1;
    const high = white - before;
    before = white;
    const t = i / RATE;
    const tone = Math.sin(2 * Math.PI * (50 * t + 8 * (1 - Math.exp(-t * 30))));
    const body = kind === 'kick' ? tone : kind === 'snare' ? 0.5 * tone + 0.6 * white : 0.5 * high;
    return body * Math.exp(-t / decay) * Math.min(1, (i + 1) / attack);
  });
}

function recording(kind: Noise, floorDb: number, levelsDb: readonly number[], seed: number) {
  const gap = 0.75 * RATE;
  const mono = floorOf(kind, Math.round((levelsDb.length + 2) * gap), floorDb, seed);
  const random = seededRandom(seed + 1);
  const frames = levelsDb.map((levelDb, place) => {
    const at = Math.round((place + 1) * gap + random() * 0.2 * RATE);
    const sound = hit((['kick', 'snare', 'hat'] as const)[place % 3]!, seed + place);
    const gain = 10 ** (levelDb / 20);
    for (let i = 0; i < sound.length && at + i < mono.length; i++) mono[at + i]! += gain * sound[i]!;
    return at;
  });
  return { mono, frames };
}

describe('hits out of an input', () => {
  const levels = [-3, -6, -12, -3, -20, -14, -8, -3, -10, -16, -5, -12];
  it.each<[Noise, number]>([
    ['white', -60],
    ['white', -48],
    ['deep', -50],
    ['hum', -45],
    ['deep', -70],
  ])(
    'over %s noise at %i dB: all found, none invented, begun before the attack and by less than 2 ms',
    (kind, floorDb) => {
      const { mono, frames } = recording(kind, floorDb, levels, 7);
      const { takes, floor } = findTakes({ sampleRate: RATE, channels: [mono] });
      expect(Math.abs(floor.levelDb - floorDb)).toBeLessThan(1.2);
      expect(takes).toHaveLength(frames.length);
      takes.forEach(({ startFrame, endFrame }, place) => {
        const earlyMs = ((frames[place]! - startFrame) / RATE) * 1000;
        expect(earlyMs).toBeGreaterThanOrEqual(0);
        expect(earlyMs).toBeLessThanOrEqual(2);
        expect(endFrame).toBeGreaterThan(startFrame);
      });
    },
  );

  it('a hit that is struck into another ends that, and both begin where they were struck', () => {
    const { mono } = recording('white', -60, [-3], 3);
    const at = Math.round(0.75 * RATE) + 30_000;
    hit('snare', 9).forEach((x, i) => (mono[at + i]! += x));
    const ringing = Math.round(at + 0.13 * RATE);
    hit('snare', 10).forEach((x, i) => (mono[ringing + i]! += x));
    const { takes } = findTakes({ sampleRate: RATE, channels: [mono] });
    expect(takes).toHaveLength(3);
    expect(takes[1]!.endFrame).toBe(takes[2]!.startFrame);
    expect(Math.abs(takes[2]!.startFrame - ringing) / RATE).toBeLessThan(0.002);
  });

  it('silence, an input that never falls silent, and lines that lie the wrong way round', () => {
    expect(findTakes({ sampleRate: RATE, channels: [new Float32Array(RATE)] }).takes).toEqual([]);
    const loud = floorOf('white', 2 * RATE, -10, 1);
    expect(findTakes({ sampleRate: RATE, channels: [loud] }, { openDb: -60, closeDb: -70 }).takes).toHaveLength(1);
    expect(() => findTakes({ sampleRate: RATE, channels: [loud] }, { openDb: -60, closeDb: -50 })).toThrow(
      'it would close at -50 dB, above where it opens (-60 dB)',
    );
    expect(findTakes({ sampleRate: RATE, channels: [new Float32Array(0)] }).takes).toEqual([]);
  });

  it('gives the same whatever the blocks in which it comes', () => {
    const { mono } = recording('deep', -50, levels, 21);
    const { floor, settings } = findTakes({ sampleRate: RATE, channels: [mono] });
    const inBlocks = (size: number) => {
      const finder = new TakeFinder(RATE, floor, settings);
      const takes: FoundTake[] = [];
      for (let at = 0; at < mono.length; at += size)
        finder.feed(mono.subarray(at, at + size), (take) => takes.push(take));
      finder.end((take) => takes.push(take));
      return takes;
    };
    const whole = inBlocks(mono.length);
    expect(whole).toHaveLength(levels.length);
    for (const size of [1, 128, 777]) expect(inBlocks(size)).toEqual(whole);
  });
});
