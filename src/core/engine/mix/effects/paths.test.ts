import { describe, expect, it } from 'vitest';
import { channelFragment, momentAt } from '../../../../../tests/support/mixing.ts';
import { EFFECT_ROWS, type EffectKind } from '../../../params/effects.ts';
import { packValues, soundValues, type Rows } from '../../../params/row.ts';
import type { EffectFragment } from '../../plan/fragments.ts';
import { MixGraph } from '../graph.ts';
import { shareOfPlace } from './building/share-of-place.ts';

const RATE = 44100;
const BLOCK = 128;

function effect(kind: EffectKind, sparse: object = {}, paths?: EffectFragment[][], id: string = kind): EffectFragment {
  const rows: Rows = EFFECT_ROWS[kind];
  const values = packValues(rows, soundValues(rows, sparse));
  return { id, kind, bypassed: false, sideChannelId: null, values, ...(paths && { paths }) };
}

/** A signal through a channel with these effects; what is taken at a frame comes with the next block. */
function through(
  effects: EffectFragment[],
  sound: (i: number) => number,
  frames = 20_000,
  later: Record<number, EffectFragment[]> = {},
): Float32Array {
  const graph = new MixGraph(RATE);
  graph.update([channelFragment('a', { effects })], []);
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  for (let at = 0; at < frames; at += BLOCK) {
    const next = later[Math.floor(at / BLOCK)];
    if (next) graph.update([channelFragment('a', { effects: next })], []);
    const count = Math.min(BLOCK, frames - at);
    const bus = graph.get('a')!;
    for (let i = 0; i < count; i++) bus.left[i] = bus.right[i] = sound(at + i);
    graph.mixInto({ left, right }, at, count, momentAt(at), 0);
  }
  return left;
}

const tone = (i: number) => 0.5 * Math.sin((2 * Math.PI * 300 * i) / RATE);
const click = (i: number) => (i === 5000 ? 0.5 : 0);
const plain = (frames: number, sound: (i: number) => number) =>
  Float32Array.from({ length: frames }, (_, i) => sound(i));
const width = (gain: number) => effect('width', { width: gain });
const farthest = (a: Float32Array, b: Float32Array) =>
  a.reduce((most, value, i) => Math.max(most, Math.abs(value - b[i]!)), 0);

describe('paths side by side', () => {
  it('join at their levels: with nothing in them, the sum of those is all that changes', () => {
    const heard = through([effect('paths', { level1: 0, level2: -12, count: 2 })], tone);
    const gain = 1 + 10 ** (-12 / 20);
    const wanted = plain(20_000, (i) => gain * tone(i));
    expect(farthest(heard, wanted)).toBeLessThan(1e-6);
    const one = through([effect('paths', { level1: 0, level2: -60, count: 2 })], tone);
    expect(farthest(one, plain(20_000, tone))).toBe(0);
  });

  it('each go through their own effects: the dry beside a driven one 16 dB below', () => {
    const drive = effect('drive', { driveDb: 24 });
    const alone = through([drive], tone);
    const heard = through([effect('paths', { level1: 0, level2: -16 }, [[], [drive]])], tone);
    const wanted = plain(20_000, (i) => tone(i) + 10 ** (-16 / 20) * alone[i]!);
    expect(farthest(heard, wanted)).toBeLessThan(1e-6);
  });

  it('meet on the frame: what looks ahead in one of them is waited for in the others', () => {
    const limiter = effect('limiter', { ceilingDb: 0 });
    const lookahead = through([limiter], click).findIndex((value) => Math.abs(value) > 0.25) - 5000;
    expect(lookahead).toBeGreaterThan(50);
    const heard = through([effect('paths', { level1: 0, level2: 0 }, [[], [limiter]])], click);
    expect(heard[5000 + lookahead]!).toBeCloseTo(1, 2);
    expect(heard.findIndex((value) => Math.abs(value) > 0.4)).toBe(5000 + lookahead);
    const graph = new MixGraph(RATE);
    const side = effect('paths', {}, [[], [limiter]]);
    graph.update([channelFragment('a', { effects: [side] })], []);
    expect(graph.latencyFrames).toBe(lookahead);
  });

  it('one after another give way at equal power; at its place one is heard alone, as loud as it is', () => {
    for (const at of [0, 0.3, 0.5, 0.81, 1]) {
      const powers = [0, 1, 2].map((place) => shareOfPlace(place, 2 * at) ** 2);
      expect(powers.reduce((sum, power) => sum + power, 0)).toBeCloseTo(1, 9);
    }
    // Turned about, at other levels: in turns these do not count.
    const paths = [[], [width(1), effect('equaliser', {}, undefined, 'e')], []];
    const second = through([effect('paths', { count: 3, joins: 'turns', which: 0.5, level2: -20 }, paths)], tone);
    expect(farthest(second.subarray(5000), plain(20_000, tone).subarray(5000))).toBeLessThan(1e-4);
  });

  it.each([
    ['an effect comes into a path', [[], [effect('drive', { driveDb: 12 })]]],
    ['one that looks ahead comes into a path', [[], [effect('limiter', { ceilingDb: -3 })]]],
  ])('%s and goes while a tone sounds: no step above its own', (_, paths) => {
    const fork = (inPaths: EffectFragment[][]) => [effect('paths', { level1: -6, level2: -6 }, inPaths)];
    const heard = through(fork([[], []]), tone, 60_000, { 100: fork(paths), 250: fork([[], []]) });
    const own = (2 * Math.PI * 300) / RATE;
    let steepest = 0;
    for (let i = 1000; i < 60_000; i++) steepest = Math.max(steepest, Math.abs(heard[i]! - heard[i - 1]!));
    // Driven, the tone itself is steeper.
    expect(steepest).toBeLessThan(own * 1.6);
    const late = 50_000;
    expect(heard.subarray(late).reduce((most, value) => Math.max(most, Math.abs(value)), 0)).toBeCloseTo(0.5, 2);
  });

  it('move with all in them to another place in the chain without a step', () => {
    const fork = effect('paths', { level1: -6, level2: -6 }, [[], [effect('sway')]]);
    const other = effect('equaliser');
    const heard = through([fork, other], tone, 40_000, { 100: [other, fork] });
    let steepest = 0;
    for (let i = 2000; i < 40_000; i++) steepest = Math.max(steepest, Math.abs(heard[i]! - heard[i - 1]!));
    expect(steepest).toBeLessThan(((2 * Math.PI * 300) / RATE) * 1.3);
  });
});
