/** Giving way: to the frame by notes, later by as much as effects before it look ahead, under the sounds that were chosen. */
import { describe, expect, it } from 'vitest';
import { channelFragment, momentAt } from '../../../../../tests/support/mixing.ts';
import { dB, rms, sine, through } from '../../../../../tests/support/effects.ts';
import { countingEnv, unwrap } from '../../../../../tests/support/documents.ts';
import { planOf, play, shortBursts } from '../../../../../tests/support/playing.ts';
import { addEffect } from '../../../project/commands/effects.ts';
import { setValue } from '../../../project/commands/values.ts';
import { EFFECT_ROWS, type EffectKind } from '../../../params/effects.ts';
import { packValues, type Rows } from '../../../params/row.ts';
import type { EffectFragment } from '../../plan/fragments.ts';
import { MixGraph } from '../graph.ts';

const RATE = 44_100;
const effect = (kind: EffectKind, sparse: object, sideChannelId: string | null = null): EffectFragment => {
  const rows: Rows = EFFECT_ROWS[kind];
  return { id: kind, kind, bypassed: false, sideChannelId, values: packValues(rows, sparse) };
};

/** A steady level in one channel, hits in another: what comes out of the first. */
function ducked(
  effects: EffectFragment[],
  hits: readonly [frame: number, group: number, key?: number][],
  block: number,
): Float32Array {
  const graph = new MixGraph(RATE);
  graph.update([channelFragment('pad', { effects }), channelFragment('drums')], []);
  const out = { left: new Float32Array(20_000), right: new Float32Array(20_000) };
  for (let at = 0; at < 20_000; at += block) {
    const count = Math.min(block, 20_000 - at);
    graph.get('pad')!.left.fill(0.5, 0, count);
    for (const [frame, group, key] of hits)
      if (frame >= at && frame < at + count) graph.get('drums')!.hits.add(frame, group, key);
    graph.mixInto(out, at, count, momentAt(at), 0);
  }
  return out.left;
}

describe('ducking by notes', () => {
  const settings = { depthDb: -12, downMs: 1, holdMs: 20, returnMs: 100, under: 'kicks' };
  const hits = [
    [4_321, 1],
    [9_000, 2],
    [14_007, 1],
  ] as [number, number][];

  it('the first frame of the dip is the first frame of the kick, and only under kicks', () => {
    const plain = ducked([effect('ducking', settings, 'drums')], hits, 128);
    const dips = [...plain].flatMap((value, at) =>
      at > 500 && value < 0.4999 && plain[at - 1]! >= 0.4999 ? [at] : [],
    );
    expect(dips).toEqual([4_321, 14_007]);
    expect(dB(plain[4_321 + 441]! / 0.5)).toBeCloseTo(-12, 2);
    expect(plain[4_321 + 44 + 882 + 4410 + 2]).toBeCloseTo(0.5, 6);
    for (const block of [1, 127, 4096]) {
      expect(ducked([effect('ducking', settings, 'drums')], hits, block)).toEqual(plain);
    }
  });

  it('or under what keys press alone, whatever that is', () => {
    const pressed = [...hits, [11_111, 0, 60]] as [number, number, number?][];
    const plain = ducked([effect('ducking', { ...settings, under: 'keys' }, 'drums')], pressed, 128);
    expect(plain.findIndex((value, at) => at > 500 && value < 0.4999)).toBe(11_111);
    expect(plain.subarray(500, 11_111).every((value) => value > 0.4999)).toBe(true);
    expect(ducked([effect('ducking', { ...settings, under: 'keys' }, 'drums')], hits, 128).at(-1)).toBeCloseTo(0.5, 6);
  });

  it('waits as long as an effect before it takes', () => {
    const limiter = effect('limiter', {});
    const late = ducked([limiter, effect('ducking', settings, 'drums')], hits, 128);
    const latency = new MixGraph(RATE);
    latency.update([channelFragment('pad', { effects: [limiter] })], []);
    expect(late.findIndex((value, at) => at > 500 && value < 0.4999)).toBe(4_321 + latency.latencyFrames);
  });

  it('in a song goes by what its part plays, and the same however it is rendered', () => {
    const made = shortBursts();
    const { document, partId } = made;
    const env = countingEnv();
    const { channelId } = document.parts[partId]!;
    const added = unwrap(addEffect(document, { channelId, kind: 'ducking' }, env));
    const [effectId] = added.channels[channelId]!.effectOrder;
    const owners = [{ kind: 'effect' as const, id: effectId! }];
    const deep = unwrap(setValue(added, { owners, param: 'depthDb', change: { to: -60 } }, env));
    const long = unwrap(setValue(deep, { owners, param: 'holdMs', change: { to: 1000 } }, env));
    const heard = (of: typeof document) => play(planOf({ ...made, document: of }), RATE);
    // It gives way to its own hits: of each only the first two milliseconds are left.
    expect(rms(heard(long))).toBeLessThan(rms(heard(document)) / 3);
  });
});

describe('ducking by level', () => {
  it('stays down while what it listens to is loud, then comes back', () => {
    const side = sine(100, 40_000).map((value, i) => (i < 15_000 ? value : 0));
    const values = { by: 'level', depthDb: -20, holdMs: 10, returnMs: 50 };
    const { left } = through('ducking', values, sine(1000, 40_000, 0.5), { side: { left: side, right: side } });
    expect(dB(rms(left, 5000, 14_000) / rms(sine(1000, 9000, 0.5)))).toBeCloseTo(-20, 0);
    expect(dB(rms(left, 25_000) / rms(sine(1000, 15_000, 0.5)))).toBeCloseTo(0, 1);
  });
});
