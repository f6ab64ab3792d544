/** Each effect stands in one channel, all channels come to the main one, and no signal leads back to where it came from. */
import { ownRecord } from '../changed-keys.ts';
import { strayOfChain } from '../chain-tree.ts';
import type { ProjectDocument } from '../schema.ts';
import { sameMembers } from './members.ts';

type Mix = Pick<ProjectDocument, 'channels' | 'effects' | 'sends'>;
/** A part each, the main one, and room for buses. */
const MOST_CHANNELS = 600;
const MOST_SENDS = 16;

export function brokenChannelRule({
  channels,
  effects,
  sends,
  parts,
}: Mix & Pick<ProjectDocument, 'parts'>): string | null {
  const all = Object.values(channels);
  if (all.length > MOST_CHANNELS) return `a project has ${MOST_CHANNELS} channels at most`;
  const mains = all.filter(({ kind }) => kind === 'main');
  if (mains.length !== 1 || mains[0]!.outputId !== null) return 'a project has one main channel, the last of all';
  const placed = all.flatMap((channel) => channel.effectOrder);
  if (!sameMembers(placed, Object.keys(effects))) return 'an effect stands in no channel, or in two';
  for (const { id, effectOrder } of all) {
    const stray = strayOfChain(effectOrder.map((effectId) => effects[effectId]!));
    if (stray) return `effect ${stray.id} of channel ${id} stands in a path where there is none`;
  }
  for (const { id, outputId } of all) {
    if (outputId === null) continue;
    const bus = ownRecord(channels, outputId);
    if (!bus) return `channel ${id} is led to the unknown channel ${outputId}`;
    if (bus.kind !== 'bus') return `channel ${id} is led to ${outputId}, which is no bus`;
  }
  const count = new Map<string, number>();
  for (const { id, fromChannelId, toChannelId } of Object.values(sends)) {
    if (!ownRecord(channels, fromChannelId) || !ownRecord(channels, toChannelId))
      return `send ${id} joins a channel that is not there`;
    count.set(fromChannelId, (count.get(fromChannelId) ?? 0) + 1);
    if (count.get(fromChannelId)! > MOST_SENDS) return `channel ${fromChannelId} has more than ${MOST_SENDS} sends`;
  }
  for (const { id, sideChannelId } of Object.values(effects)) {
    if (sideChannelId !== null && !ownRecord(channels, sideChannelId))
      return `effect ${id} listens to an unknown channel`;
  }
  for (const { doubles = [] } of Object.values(parts)) {
    for (const { id, channelId } of doubles) {
      if (channelId !== undefined && ownRecord(channels, channelId)?.kind !== 'bus')
        return `double ${id} is led to ${channelId}, which is no bus`;
    }
  }
  const found = circleOf({ channels, effects, sends });
  return found === null ? null : `the signal of channel ${found} would lead back to it`;
}

/**
 * A channel whose signal would come back to where it was, by its output, by sends or by what an effect listens to; null
 * when there is none. Channels that nothing leads to are taken away until none is left (Kahn 1962); what stays is in a
 * circle, or behind one.
 */
export function circleOf({ channels, effects, sends }: Mix): string | null {
  const ways = new Map<string, string[]>(Object.keys(channels).map((id) => [id, []]));
  const main = Object.values(channels).find(({ kind }) => kind === 'main');
  for (const { id, outputId, effectOrder } of Object.values(channels)) {
    const to = outputId ?? main?.id;
    if (to !== undefined && to !== id) ways.get(id)!.push(to);
    for (const effectId of effectOrder) {
      const from = effects[effectId]?.sideChannelId ?? null;
      // Listening to itself is listening to what comes in.
      if (from !== null && from !== id) ways.get(from)!.push(id);
    }
  }
  for (const { fromChannelId, toChannelId } of Object.values(sends)) ways.get(fromChannelId)!.push(toChannelId);
  const count = new Map(Object.keys(channels).map((id) => [id, 0]));
  for (const to of [...ways.values()].flat()) count.set(to, count.get(to)! + 1);
  const free = [...count].filter(([, incoming]) => incoming === 0).map(([id]) => id);
  for (let id = free.pop(); id !== undefined; id = free.pop()) {
    count.delete(id);
    for (const to of ways.get(id)!) {
      const left = count.get(to)! - 1;
      count.set(to, left);
      if (left === 0) free.push(to);
    }
  }
  const [found] = count.keys();
  return found ?? null;
}
