import { describe, expect, it } from 'vitest';
import { channelFragment, momentAt } from '../../../../tests/support/mixing.ts';
import { dB, rms } from '../../../../tests/support/effects.ts';
import { EFFECT_ROWS, type EffectKind } from '../../params/effects.ts';
import { packValues, type Rows } from '../../params/row.ts';
import { CHANNEL_ROWS } from '../../params/tables.ts';
import type { ChannelFragment, EffectFragment } from '../plan/fragments.ts';
import { MixGraph } from './graph.ts';

const RATE = 44_100;
const FRAMES = 4 * RATE;

function effect(kind: EffectKind, sparse: object): EffectFragment {
  const rows: Rows = EFFECT_ROWS[kind];
  return { id: kind, kind, bypassed: false, sideChannelId: null, values: packValues(rows, sparse) };
}
const channel = (effects: EffectFragment[], values: object): ChannelFragment =>
  channelFragment('a', { effects, values: packValues(CHANNEL_ROWS, values) });

/** A tone through the chain, whose settings are others from half on. */
function heard(effects: EffectFragment[], before: object, after: object = before): Float32Array {
  const graph = new MixGraph(RATE);
  graph.update([channel(effects, before)], []);
  const out = { left: new Float32Array(FRAMES), right: new Float32Array(FRAMES) };
  for (let at = 0; at < FRAMES; at += 105) {
    if (at === FRAMES / 2) graph.update([channel(effects, after)], []);
    const { left, right } = graph.get('a')!;
    for (let i = 0; i < 105; i++) left[i] = right[i] = 0.2 * Math.sin(((at + i) * 2 * Math.PI * 220) / RATE);
    graph.mixInto(out, at, 105, momentAt(at), 0);
  }
  return out.left;
}
const tone = (at: number) => 0.2 * Math.sin((at * 2 * Math.PI * 220) / RATE);

describe('a whole chain', () => {
  const drive = effect('drive', { driveDb: 20, isMadeUp: false });
  const limiter = effect('limiter', { inputDb: 6 });

  it('off is as if there were none, later only by what its effects look ahead', () => {
    const off = heard([drive, limiter], { chain: 'off' });
    const graph = new MixGraph(RATE);
    graph.update([channel([drive, limiter], {})], []);
    for (let at = 2000; at < 4000; at++) expect(off[at]).toBeCloseTo(tone(at - graph.latencyFrames), 5);
  });

  it('is mixed with the sound that did not go through it', () => {
    const half = heard([drive], { chainWet: 0.5 });
    const wet = heard([drive], {});
    for (let at = 2000; at < 2400; at++) expect(half[at]).toBeCloseTo((wet[at]! + tone(at)) / 2, 4);
  });

  it('goes and comes without a step, and nothing is torn where it looks ahead', () => {
    for (const [before, after] of [
      [{}, { chain: 'off' }],
      [{ chain: 'off' }, {}],
      [{}, { chainWet: 0.3 }],
    ]) {
      const out = heard([limiter], before!, after);
      let step = 0;
      for (let at = 1000; at < FRAMES; at++) step = Math.max(step, Math.abs(out[at]! - out[at - 1]!));
      expect(step).toBeLessThan(0.4 * ((2 * Math.PI * 220) / RATE) + 0.004);
    }
  });

  it('compared with none at the same loudness', () => {
    const out = heard([drive], {}, { chain: 'compared' });
    const [withIt, without] = [rms(out, RATE, 2 * RATE), rms(out, 3 * RATE, 4 * RATE)];
    expect(dB(withIt / (0.2 * Math.SQRT1_2))).toBeGreaterThan(8);
    expect(Math.abs(dB(without / withIt))).toBeLessThan(0.3);
    // It is the dry sound, louder.
    const gain = without / (0.2 * Math.SQRT1_2);
    for (let at = 3 * RATE; at < 3 * RATE + 400; at++) expect(out[at]).toBeCloseTo(tone(at) * gain, 3);
  });
});
