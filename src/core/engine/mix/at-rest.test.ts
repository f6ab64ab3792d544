import { describe, expect, it, vi } from 'vitest';
import { channelFragment, momentAt } from '../../../../tests/support/mixing.ts';
import { EFFECT_ROWS, type EffectKind } from '../../params/effects.ts';
import { packValues } from '../../params/row.ts';
import type { EffectFragment } from '../plan/fragments.ts';
import { MixGraph } from './graph.ts';

const RATE = 44_100;
const BLOCK = 128;

const effect = (kind: EffectKind, settings: Partial<EffectFragment> = {}): EffectFragment => ({
  id: kind,
  kind,
  bypassed: false,
  sideChannelId: null,
  values: packValues(EFFECT_ROWS[kind], {}),
  ...settings,
});

class Mix {
  readonly graph = new MixGraph(RATE);
  private frame = 0;

  constructor(readonly effects: readonly EffectFragment[]) {
    this.graph.update([channelFragment('a', { effects })], []);
  }

  /** Mixes blocks, of which the first may hold a click. @returns how loud the loudest of all was */
  run(blocks: number, click = 0): number {
    let loudest = 0;
    for (let b = 0; b < blocks; b++) {
      const out = { left: new Float32Array(BLOCK), right: new Float32Array(BLOCK) };
      if (b === 0) this.graph.get('a')!.left[BLOCK - 2] = click;
      this.graph.mixInto(out, 0, BLOCK, momentAt(this.frame), 0);
      this.frame += BLOCK;
      loudest = out.left.reduce((most, sample) => Math.max(most, Math.abs(sample)), loudest);
    }
    return loudest;
  }

  /** How often its effects were called meanwhile. */
  callsIn(blocks: number): number {
    const row = vi.spyOn(this.graph.get('a')!.effects, 'process');
    this.run(blocks);
    const calls = row.mock.calls.length;
    row.mockRestore();
    return calls;
  }
}

const seconds = (count: number) => Math.ceil((count * RATE) / BLOCK);

describe('a channel whose effects sleep', () => {
  it.each([['drive'], ['room'], ['echo'], ['limiter'], ['compressor'], ['width']] as const)(
    'with a %s is not worked out, until something comes in',
    (kind) => {
      const mix = new Mix([effect(kind)]);
      expect(mix.callsIn(4)).toBe(0);
      expect(mix.run(4, 0.9)).toBeGreaterThan(0.01);
      expect(mix.callsIn(8)).toBeGreaterThan(0);
      mix.run(seconds(15) + Math.ceil(mix.graph.get('a')!.effects.restFrames / BLOCK));
      expect(mix.callsIn(8)).toBe(0);
      expect(mix.run(4, 0.9)).toBeGreaterThan(0.01);
    },
  );

  it('what waits in a bypassed effect that looks ahead still comes', () => {
    const mix = new Mix([effect('limiter', { bypassed: true })]);
    mix.run(10);
    expect(mix.run(1, 0.5)).toBeLessThan(1e-6);
    expect(mix.run(20)).toBeCloseTo(0.5, 3);
  });

  it('an edit is taken at rest, and heard at the next sound', () => {
    const mix = new Mix([effect('width'), effect('drive')]);
    mix.run(seconds(3));
    const quiet = { ...mix.effects[1]!, values: packValues(EFFECT_ROWS.drive, { gainDb: -48 }) };
    mix.graph.update([channelFragment('a', { effects: [mix.effects[0]!, quiet] })], []);
    mix.run(4);
    expect(mix.run(8, 0.5)).toBeLessThan(0.02);
  });
});
