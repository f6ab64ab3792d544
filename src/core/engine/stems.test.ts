/** Stems of one pass: what each gives to the mix, which is their sum. */
import { describe, expect, it } from 'vitest';
import { countingEnv, loopProject, unwrap } from '../../../tests/support/documents.ts';
import { planOf, set } from '../../../tests/support/playing.ts';
import { firstDifference, sine } from '../../../tests/support/signals.ts';
import { addBus, addSend } from '../project/commands/channels.ts';
import { duplicatePart } from '../project/commands/copy-part.ts';
import { addEffect } from '../project/commands/effects.ts';
import { mainChannel } from '../queries/channels.ts';
import { stemChannels, stemsDocument } from '../queries/stems.ts';
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

async function stemsOf(project: ReturnType<typeof twoParts>, ringOut: boolean) {
  const channels = stemChannels(project.document);
  const sums = channels.map(() => [] as number[]);
  const mix: number[] = [];
  const options = { lengthTicks: 3840, ringOut, stemIds: channels.map(({ id }) => id) };
  const frames = await bounceInto(planOf(project), options, ({ left }, stems) => {
    for (const sample of left) mix.push(sample);
    for (const [place, stem] of stems.entries()) for (const sample of stem.left) sums[place]!.push(sample);
  });
  return { channels, mix, stems: sums, frames };
}

describe('stems', () => {
  it.each([false, true])(
    'add up to the mix without its own chain, sample by sample (rings out: %s)',
    async (ringOut) => {
      const project = twoParts();
      const bare = { ...project, document: stemsDocument(project.document, { withChains: true, withSends: true }) };
      const { channels, mix, stems, frames } = await stemsOf(bare, ringOut);
      expect(channels.map(({ name }) => name)).toEqual(['loop', 'loop (copy)', 'far']);
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
    const { mix } = await stemsOf(project, true);
    const alone = await bounce(planOf(project), { lengthTicks: 3840, ringOut: true });
    expect(firstDifference(Float32Array.from(mix), alone.channels[0]!)).toBe(-1);
  });

  it('without chains and sends are what comes into them', async () => {
    const project = twoParts();
    const bare = { ...project, document: stemsDocument(project.document, { withChains: false, withSends: false }) };
    const { stems } = await stemsOf(bare, false);
    expect(firstDifference(Float32Array.from(stems[0]!), Float32Array.from(stems[1]!))).toBe(-1);
    expect(stems[2]!.every((sample) => sample === 0)).toBe(true);
  });
});
