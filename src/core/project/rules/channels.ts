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
  return circleOfSends(channels);
}

/** Signals may not come back to where they were: depth-first search with three colours. */
function circleOfSends(channels: ProjectDocument['channels']): string | null {
  const state = new Map<string, 'open' | 'done'>();
  const visit = (id: string): boolean => {
    if (state.get(id) === 'open') return true;
    if (state.get(id) === 'done') return false;
    state.set(id, 'open');
    const isCircle = channels[id]!.sends.some(({ channelId }) => visit(channelId));
    state.set(id, 'done');
    return isCircle;
  };
  const found = Object.keys(channels).find((id) => visit(id));
  return found === undefined ? null : `the sends of channel ${found} lead back to it`;
}
