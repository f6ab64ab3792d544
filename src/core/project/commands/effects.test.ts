import { describe, expect, it } from 'vitest';
import { countingEnv, loopProject, unwrap } from '../../../../tests/support/documents.ts';
import { burstLoop } from '../../../../tests/support/signals.ts';
import { openDocument } from '../../document/validate.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { mainChannel } from '../../queries/channels.ts';
import { CHAIN_KIND } from '../../shelf/chain.ts';
import { openRecord } from '../../shelf/record-kind.ts';
import { chainOf, chainToKeep } from '../chain-of.ts';
import { addBus, addSend } from './channels.ts';
import {
  addEffect,
  bypassEffect,
  copyEffect,
  listenTo,
  moveEffect,
  putChain,
  removeEffect,
  removePath,
} from './effects.ts';
import { addModulator } from './modulators.ts';
import { setValue } from './values.ts';

const env = { ...countingEnv(), newId: () => crypto.randomUUID() };

function withThree(): {
  document: ProjectDocument;
  channelId: string;
  partId: string;
  kinds(of?: ProjectDocument): string[];
} {
  const { document: plain, partId } = loopProject(burstLoop(44_100, [0, 11_025]), [0, 11_025]);
  const { channelId } = plain.parts[partId]!;
  let document = plain;
  for (const kind of ['drive', 'echo', 'limiter'] as const)
    document = unwrap(addEffect(document, { channelId, kind }, env));
  const kinds = (of = document) => of.channels[channelId]!.effectOrder.map((id) => of.effects[id]!.kind);
  return { document, channelId, partId, kinds };
}

describe('effects of a channel', () => {
  it('are put in at a place, moved, copied behind themselves and taken out', () => {
    const { document, channelId, kinds } = withThree();
    const [drive, echo] = document.channels[channelId]!.effectOrder as [string, string];
    expect(kinds(unwrap(addEffect(document, { channelId, kind: 'room', place: 1 }, env)))).toEqual([
      'drive',
      'room',
      'echo',
      'limiter',
    ]);
    expect(kinds(unwrap(moveEffect(document, { effectId: drive, place: 2 }, env)))).toEqual([
      'echo',
      'limiter',
      'drive',
    ]);
    const set = unwrap(
      setValue(document, { owners: [{ kind: 'effect', id: echo }], param: 'feedback', change: { to: 0.7 } }, env),
    );
    const copied = unwrap(copyEffect(set, { effectId: echo }, env));
    expect(kinds(copied)).toEqual(['drive', 'echo', 'echo', 'limiter']);
    const [, first, second] = copied.channels[channelId]!.effectOrder;
    expect(copied.effects[second!]!.values).toEqual(copied.effects[first!]!.values);
    expect(kinds(unwrap(removeEffect(document, { effectId: echo }, env)))).toEqual(['drive', 'limiter']);
    expect(unwrap(bypassEffect(document, { effectId: echo, bypassed: true }, env)).effects[echo]!.bypassed).toBe(true);
  });

  it('are 32 at most, and no more is said why', () => {
    let { document } = withThree();
    const { channelId } = withThree();
    const id = Object.keys(document.channels).find((one) => document.channels[one]!.effectOrder.length > 0)!;
    for (let n = 3; n < 32; n++) document = unwrap(addEffect(document, { channelId: id, kind: 'width' }, env));
    expect(addEffect(document, { channelId: id, kind: 'width' }, env)).toMatchObject({ ok: false });
    expect(() => openDocument(JSON.parse(JSON.stringify(document)))).not.toThrow();
    expect(channelId).not.toBe('');
  });

  it('that go take with them what moved them', () => {
    const { document, channelId, partId } = withThree();
    const [drive] = document.channels[channelId]!.effectOrder;
    const target = { kind: 'effect' as const, id: drive! };
    const moved = unwrap(
      addModulator(document, { ownerId: partId, kind: 'lfo', target, paramId: 'driveDb', amount: 0.5 }, env),
    );
    expect(Object.keys(moved.routes)).toHaveLength(1);
    expect(Object.keys(unwrap(removeEffect(moved, { effectId: drive! }, env)).routes)).toHaveLength(0);
  });

  it('listen to no channel that hears them', () => {
    const { document, channelId } = withThree();
    const withBus = unwrap(addBus(document, { name: 'Far shore' }, env));
    const bus = Object.values(withBus.channels).find(({ kind }) => kind === 'bus')!;
    const sent = unwrap(addSend(withBus, { fromChannelId: channelId, toChannelId: bus.id }, env));
    const [drive] = sent.channels[channelId]!.effectOrder;
    expect(listenTo(sent, { effectId: drive!, sideChannelId: bus.id }, env)).toMatchObject({ ok: false });
    expect(listenTo(sent, { effectId: drive!, sideChannelId: mainChannel(sent).id }, env)).toMatchObject({ ok: false });
  });
});

describe('a whole chain', () => {
  it('is put on another channel in the place of what is there', () => {
    const { document, channelId } = withThree();
    const half = unwrap(
      setValue(document, { owners: [{ kind: 'channel', id: channelId }], param: 'chainWet', change: { to: 0.5 } }, env),
    );
    const chain = chainOf(half, half.channels[channelId]!, 'tar');
    const main = mainChannel(half);
    const put = unwrap(putChain(half, { channelId: main.id, chain }, env));
    const order = put.channels[main.id]!.effectOrder;
    expect(order.map((id) => put.effects[id]!.kind)).toEqual(['drive', 'echo', 'limiter']);
    expect(put.channels[main.id]!.values.chainWet).toBe(0.5);
    // It is its own: the other chain's effects stay.
    expect(new Set([...order, ...put.channels[channelId]!.effectOrder]).size).toBe(6);
    const again = unwrap(
      putChain(put, { channelId: main.id, chain: { ...chain, effects: chain.effects.slice(0, 1) } }, env),
    );
    expect(Object.keys(again.effects)).toHaveLength(4);
    expect(() => openDocument(JSON.parse(JSON.stringify(again)))).not.toThrow();
  });

  it('that listened to what is gone, or would lead round, listens to its own channel', () => {
    const { document, channelId } = withThree();
    const [drive] = document.channels[channelId]!.effectOrder;
    const chain = chainOf(document, document.channels[channelId]!, 'tar');
    const listening = { ...chain, effects: [{ ...chain.effects[0]!, sideChannelId: 'gone' }] };
    const put = unwrap(putChain(document, { channelId, chain: listening }, env));
    expect(Object.values(put.effects)[0]!.sideChannelId).toBeNull();
    const round = { ...chain, effects: [{ ...chain.effects[0]!, sideChannelId: mainChannel(document).id }] };
    const led = unwrap(putChain(document, { channelId, chain: round }, env));
    expect(Object.values(led.effects)[0]!.sideChannelId).toBeNull();
    expect(drive).toBeDefined();
  });

  it('is kept on the shelf as it is; what is not one is refused in words', () => {
    const { document, channelId } = withThree();
    const chain = chainToKeep(chainOf(document, document.channels[channelId]!, 'tar'));
    expect(openRecord(CHAIN_KIND, JSON.parse(JSON.stringify(chain)))).toEqual(chain);
    expect(CHAIN_KIND.factsOf(chain)).toEqual({ words: ['drive', 'echo', 'limiter'] });
    expect(() => openRecord(CHAIN_KIND, { ...chain, schemaVersion: 99 })).toThrow('newer version');
    expect(() => openRecord(CHAIN_KIND, { ...chain, effects: [{ ...chain.effects[0], kind: 'siren' }] })).toThrow(
      /effects/,
    );
    expect(() => openRecord(CHAIN_KIND, { ...chain, effects: [] })).toThrow(/effects/);
  });
});

describe('paths side by side', () => {
  /** A drive, then two paths: the echo in the first, the limiter in the second. */
  function forked() {
    const three = withThree();
    const { channelId } = three;
    const [, echo, limiter] = three.document.channels[channelId]!.effectOrder as [string, string, string];
    let document = unwrap(addEffect(three.document, { channelId, kind: 'paths', place: 1 }, env));
    const forkId = document.channels[channelId]!.effectOrder[1]!;
    document = unwrap(moveEffect(document, { effectId: echo, forkId, path: 0 }, env));
    document = unwrap(moveEffect(document, { effectId: limiter, forkId, path: 1 }, env));
    const stand = (of: ProjectDocument) =>
      of.channels[channelId]!.effectOrder.map((id) => `${of.effects[id]!.kind} ${of.effects[id]!.path ?? '-'}`);
    return { ...three, document, forkId, echo, limiter, stand };
  }

  it('hold effects, which are put in, moved from one to another, and out again', () => {
    const { document, channelId, forkId, echo, stand } = forked();
    expect(stand(document)).toEqual(['drive -', 'paths -', 'echo 0', 'limiter 1']);
    expect(openDocument(structuredClone(document))).toEqual(document);
    const more = unwrap(addEffect(document, { channelId, kind: 'crush', forkId, path: 1, place: 0 }, env));
    expect(stand(more)).toEqual(['drive -', 'paths -', 'echo 0', 'crush 1', 'limiter 1']);
    expect(stand(unwrap(moveEffect(more, { effectId: echo, place: 0 }, env)))).toEqual([
      'echo -',
      'drive -',
      'paths -',
      'crush 1',
      'limiter 1',
    ]);
  });

  it('go with all in them: moved, copied, taken out; and are kept and put on', () => {
    const { document, channelId, forkId, stand } = forked();
    const inFront = unwrap(moveEffect(document, { effectId: forkId, place: 0 }, env));
    expect(stand(inFront)).toEqual(['paths -', 'echo 0', 'limiter 1', 'drive -']);
    const twice = ['paths -', 'echo 0', 'limiter 1'];
    expect(stand(unwrap(copyEffect(document, { effectId: forkId }, env)))).toEqual(['drive -', ...twice, ...twice]);
    const gone = unwrap(removeEffect(document, { effectId: forkId }, env));
    expect(stand(gone)).toEqual(['drive -']);
    expect(Object.keys(gone.effects)).toHaveLength(1);
    const chain = openRecord(
      CHAIN_KIND,
      JSON.parse(JSON.stringify(chainToKeep(chainOf(document, document.channels[channelId]!, 'beside')))),
    );
    expect(stand(unwrap(putChain(gone, { channelId, chain }, env)))).toEqual(stand(document));
  });

  it('are two at the fewest; one that is taken out lets those behind it move up with their levels', () => {
    const { document, forkId, stand } = forked();
    expect(removePath(document, { forkId, path: 0 }, env)).toMatchObject({ ok: false });
    const owners = [{ kind: 'effect' as const, id: forkId }];
    let three = unwrap(setValue(document, { owners, param: 'count', change: { to: 3 } }, env));
    three = unwrap(setValue(three, { owners, param: 'level2', change: { to: -16 } }, env));
    const two = unwrap(removePath(three, { forkId, path: 0 }, env));
    expect(stand(two)).toEqual(['drive -', 'paths -', 'limiter 0']);
    expect(two.effects[forkId]!.values).toMatchObject({ count: 2, level1: -16 });
  });

  it('hold no paths of their own, and are nowhere but behind their fork', () => {
    const { document, channelId, forkId, echo } = forked();
    const other = unwrap(addEffect(document, { channelId, kind: 'paths' }, env));
    const second = other.channels[channelId]!.effectOrder.at(-1)!;
    expect(moveEffect(other, { effectId: second, forkId, path: 0 }, env)).toMatchObject({ ok: false });
    const stray = structuredClone(document);
    const { effectOrder } = stray.channels[channelId]!;
    stray.channels[channelId]!.effectOrder = [echo, ...effectOrder.filter((id) => id !== echo)];
    expect(() => openDocument(stray)).toThrow(/stands in a path where there is none/);
  });
});
