import { describe, expect, it } from 'vitest';
import { channelFragment, momentAt, sendFragment } from '../../../../tests/support/mixing.ts';
import { EFFECT_ROWS } from '../../params/effects.ts';
import { packValues } from '../../params/row.ts';
import { firstDifference } from '../../../../tests/support/signals.ts';
import type { ChannelFragment, EffectFragment } from '../plan/fragments.ts';
import { MixGraph } from './graph.ts';

const RATE = 44100;
const channel = channelFragment;

function filter(id: string, settings: Partial<EffectFragment> = {}): EffectFragment {
  const values = packValues(EFFECT_ROWS.filter, { cutoffHz: 20 });
  return { id, kind: 'filter', bypassed: false, sideChannelId: null, values, ...settings };
}

/** Puts a steady 1 on a channel and mixes so many frames; the last of each side. */
function mixed(graph: MixGraph, into: readonly string[], frames = 4000): [number, number] {
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  for (const id of into) {
    graph.get(id)!.left.fill(1, 0, frames);
    graph.get(id)!.right.fill(1, 0, frames);
  }
  graph.mixInto({ left, right }, 0, frames, momentAt(0), 0);
  return [left.at(-1)!, right.at(-1)!];
}

describe('the mix', () => {
  it('adds its channels up, each at its level', () => {
    const graph = new MixGraph(RATE);
    graph.update([channel('a'), channel('b', {}, -20)], []);
    expect(mixed(graph, ['a', 'b'])[0]).toBeCloseTo(1.1, 6);
    expect(mixed(graph, [])[0]).toBe(0);
  });

  it('sends after the level, whatever the order the channels came in', () => {
    for (const order of [
      ['a', 'b', 'c'],
      ['c', 'b', 'a'],
      ['b', 'c', 'a'],
    ]) {
      const graph = new MixGraph(RATE);
      const made: Record<string, ChannelFragment> = {
        a: channel('a', { sends: [sendFragment('b', -6.0206)] }, -20),
        b: channel('b', { sends: [sendFragment('c')] }),
        c: channel('c'),
      };
      graph.update(
        order.map((id) => made[id]!),
        [],
      );
      // a itself (0.1), half of it through b, and that again through c.
      expect(mixed(graph, ['a'])[0]).toBeCloseTo(0.2, 6);
    }
  });

  it('a silenced channel sends nothing', () => {
    const graph = new MixGraph(RATE);
    graph.update([channel('a', { isHeard: false, sends: [sendFragment('b')] }), channel('b')], []);
    expect(mixed(graph, ['a'])[0]).toBe(0);
  });

  it('runs the effects in their order, and passes those that are bypassed', () => {
    const high = filter('h', { values: packValues(EFFECT_ROWS.filter, { shape: 'high', cutoffHz: 5000 }) });
    const graph = new MixGraph(RATE);
    graph.update([channel('a', { effects: [high] })], []);
    // A steady level is of 0 Hz: nothing of it comes through a high pass.
    expect(mixed(graph, ['a'])[0]).toBeCloseTo(0, 6);
    graph.update([channel('a', { effects: [{ ...high, bypassed: true }] })], []);
    expect(mixed(graph, ['a'])[0]).toBeCloseTo(1, 6);
  });

  it('a channel that an effect listens to comes before it, and is heard through its own level', () => {
    const graph = new MixGraph(RATE);
    const listening = channel('a', { effects: [filter('f', { sideChannelId: 'side' })] });
    graph.update([listening, channel('side', {}, -20)], []);
    expect(graph.all().map(({ id }) => id)).toEqual(['side', 'a']);
    let heard = 0;
    graph.get('a')!.effects.all[0]!.effect.process = (_bus, count, _moment, side) => {
      heard = side!.left[count - 1]!;
    };
    mixed(graph, ['side']);
    expect(heard).toBeCloseTo(0.1, 6);
  });

  it('goes on when a channel is gone that another one sent to', () => {
    const graph = new MixGraph(RATE);
    graph.update([channel('a', { sends: [sendFragment('b')] }), channel('b')], []);
    expect(mixed(graph, ['a'])[0]).toBeCloseTo(2, 6);
    graph.update([], ['b']);
    expect(mixed(graph, ['a'])[0]).toBeCloseTo(1, 6);
  });

  it('reaches a level that is turned without a step', () => {
    const graph = new MixGraph(RATE);
    graph.update([channel('a')], []);
    mixed(graph, ['a']);
    graph.get('a')!.setValue(0, -60);
    const left = new Float32Array(600);
    graph.get('a')!.left.fill(1, 0, 600);
    graph.mixInto({ left, right: new Float32Array(600) }, 0, 600, momentAt(0), 0);
    for (let i = 1; i < 600; i++) expect(Math.abs(left[i]! - left[i - 1]!)).toBeLessThan(0.005);
    expect(left[599]).toBeCloseTo(0.001, 6);
  });

  it('sends before the level on request: turned down, the channel is still sent', () => {
    const graph = new MixGraph(RATE);
    graph.update([channel('a', { sends: [sendFragment('b', 0, 'before')] }, -60), channel('b')], []);
    expect(mixed(graph, ['a'])[0]).toBeCloseTo(1.001, 6);
    graph.update([channel('a', { isHeard: false, sends: [sendFragment('b', 0, 'before')] }, -60)], []);
    mixed(graph, ['a']);
    expect(mixed(graph, ['a'])[0]).toBe(0);
  });

  it('leads a channel into a bus, and into another one without a step', () => {
    const graph = new MixGraph(RATE);
    graph.update([channel('a', { outputId: 'b' }), channel('b', {}, -20), channel('c', {}, -6.0206)], []);
    expect(mixed(graph, ['a'])[0]).toBeCloseTo(0.1, 6);
    graph.update([channel('a', { outputId: 'c' })], []);
    const left = new Float32Array(2000);
    graph.get('a')!.left.fill(1, 0, 2000);
    graph.mixInto({ left, right: new Float32Array(2000) }, 0, 2000, momentAt(0), 0);
    expect(left[0]).toBeCloseTo(0.1, 2);
    expect(left[1999]).toBeCloseTo(0.5, 5);
    for (let i = 1; i < 2000; i++) expect(Math.abs(left[i]! - left[i - 1]!)).toBeLessThan(0.003);
  });

  it('waits for what takes longer: an effect that delays meets the dry sound in time', () => {
    const graph = new MixGraph(RATE);
    graph.update([channel('dry', { outputId: 'bus' }), channel('late', { outputId: 'bus' }), channel('bus')], []);
    const limiter: EffectFragment = { ...filter('l'), kind: 'limiter', values: packValues(EFFECT_ROWS.limiter, {}) };
    graph.update([channel('late', { outputId: 'bus', effects: [limiter] })], []);
    const { latencyFrames } = graph.get('late')!.effects.all[0]!;
    expect(latencyFrames).toBeGreaterThan(50);
    expect(graph.latencyFrames).toBe(latencyFrames);
    const out = { left: new Float32Array(400), right: new Float32Array(400) };
    graph.get('dry')!.left[10] = 0.25;
    graph.get('late')!.left[10] = 0.5;
    graph.mixInto(out, 0, 400, momentAt(0), 0);
    expect([...out.left].flatMap((value, at) => (Math.abs(value) > 1e-6 ? [[at, value]] : []))).toEqual([
      [10 + latencyFrames, 0.75],
    ]);
  });

  it('an effect that looks ahead, put in and taken out while another channel sounds, tears nothing', () => {
    const graph = new MixGraph(RATE);
    const limiter: EffectFragment = { ...filter('l'), kind: 'limiter', values: packValues(EFFECT_ROWS.limiter, {}) };
    graph.update([channel('dry', { outputId: 'bus' }), channel('late', { outputId: 'bus' }), channel('bus')], []);
    const out = { left: new Float32Array(30_000), right: new Float32Array(30_000) };
    for (let at = 0; at < 30_000; at += 100) {
      if (at === 10_000) graph.update([channel('late', { outputId: 'bus', effects: [limiter] })], []);
      if (at === 20_000) graph.update([channel('late', { outputId: 'bus' })], []);
      for (let i = 0; i < 100; i++) {
        graph.get('dry')!.left[i] = 0.3 * Math.sin((at + i) / 20);
        graph.get('late')!.left[i] = 0.2 * Math.sin((at + i) / 20);
      }
      graph.mixInto(out, at, 100, momentAt(at), 0);
    }
    for (let i = 1; i < 30_000; i++) expect(Math.abs(out.left[i]! - out.left[i - 1]!)).toBeLessThan(0.5 / 20 + 0.006);
    // Both of one moment, before, while it is there, and after.
    for (const at of [9_000, 19_000, 29_000]) {
      expect(Math.max(...out.left.subarray(at, at + 200).map(Math.abs))).toBeCloseTo(0.5, 3);
    }
  });

  it('gives the same at any size of the blocks, whatever is moved in it', () => {
    const played = (block: number) => {
      const graph = new MixGraph(RATE);
      const effects = [filter('f', { values: packValues(EFFECT_ROWS.filter, { cutoffHz: 900, wet: 0.4 }) })];
      graph.update(
        [channel('a', { effects, outputId: 'b', sends: [sendFragment('c', -6)] }), channel('b'), channel('c')],
        [],
      );
      const out = { left: new Float32Array(6000), right: new Float32Array(6000) };
      for (let at = 0; at < 6000;) {
        const turn = at < 1000 ? 1000 : at < 3000 ? 3000 : 6000;
        const count = Math.min(block, turn - at);
        if (at === 1000) graph.get('a')!.setValue(0, -20);
        if (at === 1000) graph.ownerOf('effect', 'f')!.set(0, 1);
        if (at === 3000) graph.ownerOf('send', 'to-c')!.set(0, -30);
        const a = graph.get('a')!;
        for (let i = 0; i < count; i++) a.left[i] = a.right[i] = Math.sin((at + i) / 7) * (at + i < 5000 ? 1 : 0);
        graph.mixInto(out, at, count, momentAt(at), 5);
        at += count;
      }
      return out;
    };
    const whole = played(6000);
    // What a filter still rings with at -300 dB it may forget sooner or later.
    const heard = (samples: Float32Array) => samples.map((value) => (Math.abs(value) < 1e-15 ? 0 : value));
    for (const block of [1, 31, 128, 1000]) {
      expect(firstDifference(heard(played(block).left), heard(whole.left))).toBe(-1);
    }
  });
});
