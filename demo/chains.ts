/** The chains of the demo: chords that duck under the kicks, a bus with echo and room that several parts are sent to. */
import type { EffectKind } from '#core/params/effects.ts';
import { addBus, addSend } from '#core/project/commands/channels.ts';
import { addEffect, listenTo } from '#core/project/commands/effects.ts';
import type { ChainPlace } from '#core/project/chain-order.ts';
import { mainChannel } from '#core/queries/channels.ts';
import type { ProjectMaker } from './project-maker.ts';

function add(
  maker: ProjectMaker,
  channelId: string,
  kind: EffectKind,
  settings: Record<string, number | string>,
  at: ChainPlace = {},
): string {
  maker.run(addEffect, { channelId, kind, ...at });
  const id = maker.document.channels[channelId]!.effectOrder.at(-1)!;
  maker.set([{ kind: 'effect', id }], settings);
  return id;
}

export function chains(maker: ProjectMaker, parts: Readonly<Record<'drums' | 'chords' | 'bass', string>>): void {
  const channelOf = (partId: string) => maker.document.parts[partId]!.channelId;
  const [drums, chords, bass] = [channelOf(parts.drums), channelOf(parts.chords), channelOf(parts.bass)];
  add(maker, drums, 'hits', { attackDb: 4, bodyDb: -2 });
  add(maker, drums, 'compressor', { thresholdDb: -20, ratio: 3, attackMs: 12, releaseMs: 90, makeUpDb: 2 });
  add(maker, chords, 'drive', { driveDb: 6, wet: 0.4 });
  add(maker, chords, 'filter', { cutoffHz: 3200, resonance: 0.2 });
  const ducking = add(maker, chords, 'ducking', { depthDb: -9, returnMs: 220, under: 'kicks' });
  maker.run(listenTo, { effectId: ducking, sideChannelId: drums });
  add(maker, bass, 'equaliser', { lowShelfDb: 2, bell2Hz: 700, bell2Db: -3 });
  // The bass as it is, and beside it what is driven out of it, 16 dB below.
  const forkId = add(maker, bass, 'paths', { level2: -16 });
  add(maker, bass, 'drive', { driveDb: 24, shape: 'hard' }, { forkId, path: 1 });

  maker.run(addBus, { name: 'Far shore' });
  const bus = Object.values(maker.document.channels).find(({ kind }) => kind === 'bus')!.id;
  add(maker, bus, 'echo', { wet: 0.6, timeNote: '1/8d', feedback: 0.4, across: 1, duckDb: 9 });
  add(maker, bus, 'room', { wet: 0.7, decaySeconds: 2.6, size: 0.7 });
  // Last of all: what all of it comes to stays below full scale.
  add(maker, mainChannel(maker.document).id, 'limiter', { ceilingDb: -1 });
  for (const [from, gainDb] of [
    [chords, -12],
    [drums, -24],
  ] as const) {
    maker.run(addSend, { fromChannelId: from, toChannelId: bus });
    const send = Object.values(maker.document.sends).find(({ fromChannelId }) => fromChannelId === from)!;
    maker.set([{ kind: 'send', id: send.id }], { gainDb });
  }
}
