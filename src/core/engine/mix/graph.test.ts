import { describe, expect, it } from 'vitest';
import { CHANNEL_ROWS } from '../../params/tables.ts';
import { FILTER_ROWS } from '../../params/effects.ts';
import { packValues } from '../../params/row.ts';
import type { ChannelFragment, EffectFragment } from '../plan/fragments.ts';
import { MixGraph } from './graph.ts';

const RATE = 44100;

function channel(id: string, settings: Partial<ChannelFragment> = {}, gainDb = 0): ChannelFragment {
  return {
    id,
    isHeard: true,
    isDirect: true,
    effects: [],
    sends: [],
    values: packValues(CHANNEL_ROWS, { gainDb }),
    ...settings,
  };
}

function filter(id: string, settings: Partial<EffectFragment> = {}): EffectFragment {
  const values = packValues(FILTER_ROWS, { cutoffHz: 20 });
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
  graph.mixInto(left, right, 0, frames, 0);
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
        a: channel('a', { sends: [{ channelId: 'b', gain: 0.5 }] }, -20),
        b: channel('b', { sends: [{ channelId: 'c', gain: 1 }] }),
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
    graph.update([channel('a', { isHeard: false, sends: [{ channelId: 'b', gain: 1 }] }), channel('b')], []);
    expect(mixed(graph, ['a'])[0]).toBe(0);
  });

  it('runs the effects in their order, and passes those that are bypassed', () => {
    const high = filter('h', { values: packValues(FILTER_ROWS, { shape: 'high', cutoffHz: 5000 }) });
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
    graph.get('a')!.effects[0]!.effect.process = (_bus, count, _frame, side) => {
      heard = side!.left[count - 1]!;
    };
    mixed(graph, ['side']);
    expect(heard).toBeCloseTo(0.1, 6);
  });

  it('goes on when a channel is gone that another one sent to', () => {
    const graph = new MixGraph(RATE);
    graph.update([channel('a', { sends: [{ channelId: 'b', gain: 1 }] }), channel('b')], []);
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
    graph.mixInto(left, new Float32Array(600), 0, 600, 0);
    for (let i = 1; i < 600; i++) expect(Math.abs(left[i]! - left[i - 1]!)).toBeLessThan(0.005);
    expect(left[599]).toBeCloseTo(0.001, 6);
  });
});
