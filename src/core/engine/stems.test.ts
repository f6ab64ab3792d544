/** Stems of one pass: what each gives to the mix, which is their sum. */
import { describe, expect, it } from 'vitest';
import { countingEnv, loopProject, unwrap } from '../../../tests/support/documents.ts';
import { planOf, set } from '../../../tests/support/playing.ts';
import { firstDifference, sine } from '../../../tests/support/signals.ts';
import { addBus, addSend } from '../project/commands/channels.ts';
import { duplicatePart } from '../project/commands/copy-part.ts';
import { addEffect, listenTo } from '../project/commands/effects.ts';
import { mainChannel } from '../queries/channels.ts';
import { slicesOfCut } from '../queries/slices.ts';
import { stemsDocument, stemsOf } from '../queries/stems.ts';
import { bounce, bounceInto } from './bounce.ts';

const RATE = 44100;
const counting = countingEnv();
const env = { ...counting, newId: () => `new-${counting.newId()}` };

function twoParts() {
  const loop = loopProject({ sampleRate: RATE, channels: [sine(300, 1)] }, [0, 11_025, 22_050], 1);
  const base = set(loop, { follow: 'slices' } as never, 240);
  let document = unwrap(duplicatePart(base.document, { partId: base.partId }, env));
  document = unwrap(addBus(document, { name: 'far' }, env));
  const bus = Object.values(document.channels).find(({ kind }) => kind === 'bus')!;
  const [first, second] = document.partOrder.map((id) => document.parts[id]!.channelId);
  document = unwrap(addSend(document, { fromChannelId: first!, toChannelId: bus.id }, env));
  document = unwrap(addEffect(document, { channelId: bus.id, kind: 'echo' }, env));
  document = unwrap(addEffect(document, { channelId: second!, kind: 'limiter' }, env));
  document = unwrap(addEffect(document, { channelId: mainChannel(document).id, kind: 'drive' }, env));
  return { ...base, document };
}

/** The slices of each part: a kick and two hats, one at a time. */
function drummed(project: ReturnType<typeof twoParts>): ReturnType<typeof twoParts> {
  const roles = ['kick', 'closed hat', 'open hat'] as const;
  const cuts = Object.entries(project.document.cuts).map(([id, cut]) => {
    const slices = slicesOfCut(project.document, id).map(({ slice }, place) => ({ ...slice, role: roles[place % 3]! }));
    return [id, { ...cut, slices: Object.fromEntries(slices.map((slice) => [slice.id, slice])) }] as const;
  });
  return { ...project, document: { ...project.document, cuts: Object.fromEntries(cuts) } };
}

async function bounced(project: ReturnType<typeof twoParts>, ringOut: boolean, byDrum = false) {
  const wanted = stemsOf(project.document, byDrum);
  const sums = wanted.map(() => [] as number[]);
  const mix: number[] = [];
  const options = { lengthTicks: 3840, ringOut, stems: wanted };
  const frames = await bounceInto(planOf(project), options, ({ left }, stems) => {
    for (const sample of left) mix.push(sample);
    for (const [place, stem] of stems.entries()) for (const sample of stem.left) sums[place]!.push(sample);
  });
  return { names: wanted.map(({ name }) => name), mix, stems: sums, frames };
}

describe('stems', () => {
  it.each([false, true])(
    'add up to the mix without its own chain, sample by sample (rings out: %s)',
    async (ringOut) => {
      const project = twoParts();
      const bare = { ...project, document: stemsDocument(project.document, { withChains: true, withSends: true }) };
      const { names, mix, stems, frames } = await bounced(bare, ringOut);
      expect(names).toEqual(['loop', 'loop (copy)', 'far']);
      expect(mix.length).toBe(frames);
      let worst = 0;
      for (let i = 0; i < mix.length; i++) {
        worst = Math.max(worst, Math.abs(mix[i]! - stems.reduce((sum, stem) => sum + stem[i]!, 0)));
      }
      // Below -120 dB is asked for.
      expect(worst).toBeLessThan(1e-6);
      for (const stem of stems) expect(Math.max(...stem.slice(0, 44_100).map(Math.abs))).toBeGreaterThan(0.01);
    },
  );

  it('the mix of the pass is the bounce without them', async () => {
    const project = twoParts();
    const { mix } = await bounced(project, true);
    const alone = await bounce(planOf(project), { lengthTicks: 3840, ringOut: true });
    expect(firstDifference(Float32Array.from(mix), alone.channels[0]!)).toBe(-1);
  });

  it('without chains and sends are what comes into them', async () => {
    const project = twoParts();
    const bare = { ...project, document: stemsDocument(project.document, { withChains: false, withSends: false }) };
    const { stems } = await bounced(bare, false);
    expect(firstDifference(Float32Array.from(stems[0]!), Float32Array.from(stems[1]!))).toBe(-1);
    expect(stems[2]!.every((sample) => sample === 0)).toBe(true);
  });
  it('of the drums of a part add up to the part: what is left out of one is in another, and chokes as it did', async () => {
    const project = drummed(twoParts());
    const dry = { ...project, document: stemsDocument(project.document, { withChains: false, withSends: false }) };
    const whole = await bounced(dry, true);
    const apart = await bounced(dry, true, true);
    expect(apart.names).toEqual(['loop kicks', 'loop hats', 'loop (copy) kicks', 'loop (copy) hats', 'far']);
    for (const [part, first] of [0, 2].entries()) {
      const sum = whole.stems[part]!.map((_, i) => apart.stems[first]![i]! + apart.stems[first + 1]![i]!);
      const worst = whole.stems[part]!.reduce((most, sample, i) => Math.max(most, Math.abs(sample - sum[i]!)), 0);
      expect(worst).toBeLessThan(1e-6);
      expect(Math.max(...apart.stems[first]!)).toBeGreaterThan(0.1);
      expect(Math.max(...apart.stems[first + 1]!)).toBeGreaterThan(0.1);
    }
    expect(apart.mix).toEqual(whole.mix);
  });

  it('of drums through a chain that listens to another part hear all of that part', async () => {
    const project = drummed(twoParts());
    const [first, second] = project.document.partOrder.map((id) => project.document.parts[id]!.channelId);
    const late = { ...countingEnv(), newId: () => `late-${counting.newId()}` };
    let document = unwrap(addEffect(project.document, { channelId: first!, kind: 'compressor' }, late));
    const compressorId = document.channels[first!]!.effectOrder.at(-1)!;
    document = unwrap(listenTo(document, { effectId: compressorId, sideChannelId: second! }, late));
    const listening = { ...project, document: stemsDocument(document, { withChains: true, withSends: false }) };
    const wanted = stemsOf(listening.document, true);
    const alone = wanted.filter(({ name }) => name === 'loop hats');
    const [all, one] = await Promise.all(
      [wanted, alone].map(async (stems) => {
        const heard: number[] = [];
        await bounceInto(planOf(listening), { lengthTicks: 3840, stems }, (_, blocks) => {
          for (const sample of blocks[stems.findIndex(({ name }) => name === 'loop hats')]!.left) heard.push(sample);
        });
        return heard;
      }),
    );
    expect(all).toEqual(one);
  });
});
