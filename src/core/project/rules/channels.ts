/** Each effect stands in one channel, and no send leads back to where it came from. */
import { ownRecord } from '../changed-keys.ts';
import type { ProjectDocument } from '../schema.ts';
import { sameMembers } from './members.ts';

export function brokenChannelRule({ channels, effects }: ProjectDocument): string | null {
  const placed = Object.values(channels).flatMap((channel) => channel.effectOrder);
  if (!sameMembers(placed, Object.keys(effects))) return 'an effect stands in no channel, or in two';
  for (const channel of Object.values(channels)) {
    for (const { channelId } of channel.sends) {
      if (!ownRecord(channels, channelId)) return `channel ${channel.id} sends to the unknown channel ${channelId}`;
    }
  }
  for (const { id, sideChannelId } of Object.values(effects)) {
    if (sideChannelId !== null && !ownRecord(channels, sideChannelId))
      return `effect ${id} listens to an unknown channel`;
  }
  return circleOf(channels, effects);
}

/**
 * Signals may not come back to where they were, by sends or by what an effect listens to. Channels that nothing leads to
 * are taken away until none is left (Kahn 1962); what stays is in a circle, or behind one.
 */
function circleOf(channels: ProjectDocument['channels'], effects: ProjectDocument['effects']): string | null {
  const targets = (id: string) => channels[id]!.sends.map(({ channelId }) => channelId);
  const ways = new Map(Object.keys(channels).map((id) => [id, targets(id)]));
  for (const { id, effectOrder } of Object.values(channels)) {
    for (const effectId of effectOrder) {
      const from = effects[effectId]?.sideChannelId ?? null;
      // Listening to itself is listening to what comes in.
      if (from !== null && from !== id) ways.get(from)!.push(id);
    }
  }
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
  return found === undefined ? null : `the signal of channel ${found} would lead back to it`;
}
