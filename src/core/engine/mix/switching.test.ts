/** Whatever is switched in a channel while a tone sounds: no step above the tone's own. For every effect there is. */
import { describe, expect, it } from 'vitest';
import { EFFECT_KINDS, EFFECT_ROWS, type EffectKind } from '../../params/effects.ts';
import { packValues, soundValues, type Rows } from '../../params/row.ts';
import { channelFragment, momentAt, sendFragment } from '../../../../tests/support/mixing.ts';
import type { ChannelFragment, EffectFragment } from '../plan/fragments.ts';
import { MixGraph } from './graph.ts';

const RATE = 44100;
const BLOCK = 100;
/** Blocks until what was switched has settled; of what rings longer. */
const LONG = 400;
const RINGING_LONG = 2000;
const RINGING: ReadonlySet<EffectKind> = new Set(['echo', 'room', 'comb', 'shifter', 'compressor', 'limiter']);
const channel = channelFragment;
const HZ = 300;
/** Of a full sine at that frequency. */
const OWN_STEP = (2 * Math.PI * HZ) / RATE;

function effect(
  id: string,
  kind: EffectKind,
  sparse: object = {},
  settings: Partial<EffectFragment> = {},
): EffectFragment {
  const rows: Rows = EFFECT_ROWS[kind];
  return {
    id,
    kind,
    bypassed: false,
    sideChannelId: null,
    values: packValues(rows, soundValues(rows, sparse)),
    ...settings,
  };
}

/** A sine into channel a, with fragments taken at block numbers; what comes out. */
function heard(first: ChannelFragment[], later: Record<number, ChannelFragment[]>, blocks = 120): Float32Array {
  const graph = new MixGraph(RATE);
  graph.update(first, []);
  const out = new Float32Array(blocks * BLOCK);
  const other = new Float32Array(BLOCK);
  for (let block = 0; block < blocks; block++) {
    if (later[block]) graph.update(later[block]!, []);
    const a = graph.get('a')!;
    for (let i = 0; i < BLOCK; i++) {
      a.left[i] = a.right[i] = Math.sin(((block * BLOCK + i) * 2 * Math.PI * HZ) / RATE);
    }
    const left = out.subarray(block * BLOCK, (block + 1) * BLOCK);
    graph.mixInto({ left, right: other }, 0, BLOCK, momentAt(block * BLOCK), 0);
  }
  return out;
}

function greatestStep(samples: Float32Array, from: number): number {
  let most = 0;
  for (let i = from; i < samples.length; i++) most = Math.max(most, Math.abs(samples[i]! - samples[i - 1]!));
  return most;
}
const rms = (samples: Float32Array, from: number, to: number) =>
  Math.sqrt(samples.subarray(from, to).reduce((sum, value) => sum + value * value, 0) / (to - from));

describe.each(EFFECT_KINDS)('the effect %s in a channel that sounds', (kind) => {
  const dark = { cutoffHz: 60, shape: 'low' };
  const one = effect('one', kind, dark);
  const two = effect('two', kind, { cutoffHz: 900, shape: 'high' });
  const cases: [what: string, before: ChannelFragment[], after: ChannelFragment[]][] = [
    ['put in', [channel('a')], [channel('a', { effects: [one] })]],
    ['taken out', [channel('a', { effects: [one] })], [channel('a')]],
    ['bypassed', [channel('a', { effects: [one] })], [channel('a', { effects: [{ ...one, bypassed: true }] })]],
    ['let in again', [channel('a', { effects: [{ ...one, bypassed: true }] })], [channel('a', { effects: [one] })]],
    ['moved', [channel('a', { effects: [one, two] })], [channel('a', { effects: [two, one] })]],
    ['replaced', [channel('a', { effects: [one] })], [channel('a', { effects: [two] })]],
    [
      'put to other settings',
      [channel('a', { effects: [one] })],
      [channel('a', { effects: [effect('one', kind, { shape: 'high', cutoffHz: 60 })] })],
    ],
  ];
  const blocks = RINGING.has(kind) ? RINGING_LONG : LONG;
  it.each(cases)('is %s without a step', (_what, before, after) => {
    const out = heard(before, { 40: after }, blocks);
    // And it comes to the same as if it had always been so.
    const always = heard(after, {}, blocks);
    const own = Math.max(OWN_STEP, greatestStep(always, 1_000), greatestStep(heard(before, {}), 1_000));
    expect(greatestStep(out, 1_000)).toBeLessThan(own * 1.25 + 0.004);
    const [from, to] = [blocks * BLOCK - 5_000, blocks * BLOCK];
    // What sways by itself is in another place of its round.
    expect(Math.abs(rms(out, from, to) / rms(always, from, to) - 1)).toBeLessThan(0.02);
  });

  it('is switched faster than it comes and goes without a step', () => {
    const later = Object.fromEntries(
      Array.from({ length: 40 }, (_, n) => [
        20 + n,
        [channel('a', { effects: n % 3 === 0 ? [two, one] : n % 3 === 1 ? [] : [{ ...one, bypassed: n % 2 === 0 }] })],
      ]),
    );
    const own = Math.max(
      OWN_STEP,
      ...[[one], [two, one]].map((effects) => greatestStep(heard([channel('a', { effects })], {}), 1_000)),
    );
    expect(greatestStep(heard([channel('a', { effects: [one] })], later), 1_000)).toBeLessThan(own * 1.6 + 0.01);
  });
});

describe('a send of a channel that sounds', () => {
  const to = (gainDb: number) => [channel('a', { sends: [sendFragment('b', gainDb)] }), channel('b')];
  it.each([
    ['put in', [channel('a'), channel('b')], to(0)],
    ['taken out', to(0), [channel('a'), channel('b')]],
    ['turned', to(-20), to(0)],
  ])('is %s without a step', (_what, before, after) => {
    const out = heard(before, { 40: after });
    expect(greatestStep(out, 1_000)).toBeLessThan(OWN_STEP * 2 + 0.01);
    expect(rms(out, 10_000, 12_000)).toBeCloseTo(rms(heard(after, {}), 10_000, 12_000), 4);
  });

  it('is all that is heard of a channel whose target is soloed, and comes back without a step', () => {
    const fed = [channel('a', { isOutputOpen: false, sends: [sendFragment('b', -6)] }), channel('b')];
    const out = heard(to(-6), { 40: fed, 80: to(-6) });
    expect(rms(out, 6_000, 7_900)).toBeCloseTo(0.5 * Math.SQRT1_2, 2);
    expect(greatestStep(out, 1_000)).toBeLessThan(OWN_STEP * 1.5 + 0.01);
  });
});
