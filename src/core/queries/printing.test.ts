import { describe, expect, it } from 'vitest';
import { loopProject, unwrap } from '../../../tests/support/documents.ts';
import { eightStepLoop } from '../../../tests/support/signals.ts';
import { set } from '../../../tests/support/playing.ts';
import { addPart } from '../project/commands/parts.ts';
import { duplicatePart } from '../project/commands/copy-part.ts';
import { addEffect, listenTo } from '../project/commands/effects.ts';
import { setValue, type Owner } from '../project/commands/values.ts';
import { bounce } from '../engine/bounce.ts';
import { compilePlan } from '../engine/plan/compile.ts';
import { renderAll } from '../engine/plan/render-all.ts';
import type { AudioData } from '../dsp/audio.ts';
import type { ProjectDocument } from '../document/schema.ts';
import { mainChannel } from './channels.ts';
import { printedDocument, printedLength, printedLoop, printedStarts } from './printing.ts';

const RATE = 44_100;

function made() {
  const { audio, starts } = eightStepLoop();
  const project = loopProject(audio, starts);
  const part = (document: ProjectDocument = project.document) => document.parts[project.partId]!;
  return { ...project, part };
}
const wish = { withChain: true, rounds: 1 };

async function played(
  document: ProjectDocument,
  assets: ReadonlyMap<string, AudioData>,
  lengthTicks: number,
  only?: string,
) {
  const plan = compilePlan(document, RATE, { assets, renderings: renderAll(document, assets), onlyPartId: only });
  return bounce(plan, { lengthTicks });
}
const farthest = ({ channels: a }: AudioData, { channels: b }: AudioData) =>
  Math.max(...[0, 1].map((side) => a[side]!.reduce((most, x, i) => Math.max(most, Math.abs(x - b[side]![i]!)), 0)));

describe('a part that is printed', () => {
  it('is cut where its strips are heard, and read as so many bars', () => {
    const { document, part } = made();
    const { frames, lengthTicks } = printedLength(document, part(), wish, RATE);
    const starts = printedStarts(document, part(), wish, RATE);
    expect(starts).toHaveLength(8);
    expect(starts[0]).toBe(0);
    expect(frames).toBe(Math.round((lengthTicks / 960) * (60 / (document.song.values.tempoBpm ?? 100)) * RATE));
    expect(printedLoop(document, part(), wish, RATE)).toMatchObject({ startFrame: 0, endFrame: frames });
    const twice = printedStarts(document, part(), { ...wish, rounds: 2 }, RATE);
    expect(twice).toHaveLength(16);
    expect(twice[8]! - frames).toBeLessThan(2);
    // What is heard later is cut later.
    const owners: Owner[] = [{ kind: 'part', id: part().id }];
    const late = unwrap(setValue(document, { owners, param: 'startOffsetTicks', change: { to: 48 } }, made().env));
    const later = printedStarts(late, part(late), wish, RATE);
    expect(later).toHaveLength(9);
    expect(later[1]! - starts[0]!).toBe(Math.round(48 * (starts[1]! / 480)));
  });

  it('sounds in the place of its part as that did, to the sample: through its chain and level, and nothing of it twice', async () => {
    const { document: plain, part, env, assets } = made();
    const { channelId } = part();
    let document = unwrap(addEffect(plain, { channelId, kind: 'drive' }, env));
    const channel: Owner[] = [{ kind: 'channel', id: channelId }];
    document = unwrap(setValue(document, { owners: channel, param: 'gainDb', change: { to: -5 } }, env));
    const main = mainChannel(document).id;
    document = unwrap(addEffect(document, { channelId: main, kind: 'width' }, env));
    const { lengthTicks, frames } = printedLength(document, part(document), wish, RATE);
    const printed = await played(printedDocument(document, part(document), wish), assets, lengthTicks);
    const source = { id: 'printed', name: 'printed', sampleRate: RATE, channels: 2, frames };
    const slices = printedStarts(document, part(document), wish, RATE).map((startFrame) => ({
      ...Object.values(plain.cuts[part().cutOrder[0]!]!.slices)[0]!,
      startFrame,
    }));
    const loop = printedLoop(document, part(document), wish, RATE);
    const args = { name: 'printed', source, loop, tempoReadings: [], slices, adoptTempo: false };
    const both = unwrap(addPart(document, args, env));
    const withPrint = new Map([...assets, ['printed', printed]]);
    const partId = both.partOrder.at(-1)!;
    const again = await played(both, withPrint, lengthTicks, partId);
    const before = await played(both, withPrint, lengthTicks, part().id);
    expect(again.channels[0]!.length).toBe(frames);
    expect(farthest(again, before)).toBeLessThan(1e-6);
  });

  it('past its chain is what goes into that, before its level', async () => {
    const { document: plain, part, env, assets } = made();
    const owners: Owner[] = [{ kind: 'channel', id: part().channelId }];
    const soft = unwrap(setValue(plain, { owners, param: 'gainDb', change: { to: -12 } }, env));
    const without = { ...wish, withChain: false };
    const { lengthTicks } = printedLength(soft, part(soft), without, RATE);
    const printed = await played(printedDocument(soft, part(soft), without), assets, lengthTicks);
    expect(farthest(printed, await played(plain, assets, lengthTicks))).toBe(0);
  });

  it('that is muted, or at a tempo of its own, is printed all the same', async () => {
    const project = made();
    const own = set(project, { follow: 'none' }, 160);
    const part = own.document.parts[project.partId]!;
    const { lengthTicks, frames } = printedLength(own.document, part, wish, RATE);
    expect(frames).toBe(88_200);
    const owners: Owner[] = [{ kind: 'channel', id: part.channelId }];
    const muted = unwrap(setValue(own.document, { owners, param: 'muted', change: { to: true } }, project.env));
    const printed = await played(printedDocument(muted, part, wish), project.assets, lengthTicks);
    expect(printed.channels[0]!.length).toBe(88_200);
    expect(Math.max(...printed.channels[0]!)).toBeGreaterThan(0.1);
  });

  it.each(['notes', 'level'])(
    'that gives way to another by its %s is printed so, and the other is not in it',
    async (by) => {
      const { document: plain, part, env, assets } = made();
      const copied = unwrap(duplicatePart(plain, { partId: part().id }, env));
      const otherId = copied.partOrder.find((id) => id !== part().id)!;
      const { channelId } = part();
      let document = unwrap(addEffect(copied, { channelId, kind: 'ducking' }, env));
      const effectId = document.channels[channelId]!.effectOrder[0]!;
      const sideChannelId = document.parts[otherId]!.channelId;
      document = unwrap(listenTo(document, { effectId, sideChannelId }, env));
      const owners: Owner[] = [{ kind: 'effect', id: effectId }];
      for (const [param, to] of [
        ['by', by],
        ['depthDb', -24],
        ['thresholdDb', -50],
      ] as const)
        document = unwrap(setValue(document, { owners, param, change: { to } }, env));
      const alone = unwrap(
        setValue(
          document,
          { owners: [{ kind: 'channel', id: sideChannelId }], param: 'soloed', change: { to: true } },
          env,
        ),
      );
      const { lengthTicks } = printedLength(document, part(document), wish, RATE);
      const ducked = (await played(printedDocument(alone, part(alone), wish), assets, lengthTicks)).channels[0]!;
      const full = (await played(plain, assets, lengthTicks)).channels[0]!;
      const power = (samples: Float32Array) => samples.reduce((sum, x) => sum + x * x, 0);
      expect(power(ducked)).toBeLessThan(power(full) / 4);
      expect(power(ducked)).toBeGreaterThan(0);
    },
  );
});
