/** What is heard of the channels: mutes, solos, and what they send to each other. */
import type { ProjectDocument } from '../project/schema.ts';
import { channelValues } from './values.ts';

/**
 * Channels that are not silent, and those of them that are heard by themselves. With a channel soloed: that, and the ones
 * that carry it; what feeds it is heard through it alone, unless it is muted.
 * @param only hears this channel alone, and what carries it, whatever is muted or soloed
 */
export function audibleChannels(
  channels: ProjectDocument['channels'],
  only?: string,
): { heard: ReadonlySet<string>; direct: ReadonlySet<string> } {
  const all = Object.values(channels);
  const isMuted = (id: string) => channelValues(channels[id]!).muted;
  const soloed = only === undefined ? all.filter((one) => channelValues(one).soloed).map(({ id }) => id) : [only];
  if (soloed.length === 0) {
    const heard = new Set(all.map(({ id }) => id).filter((id) => !isMuted(id)));
    return { heard, direct: heard };
  }
  const direct = reached(soloed, (id) => channels[id]?.sends.map(({ channelId }) => channelId) ?? []);
  if (only !== undefined) return { heard: direct, direct };
  const feeding = new Map<string, string[]>();
  for (const { id, sends } of all) {
    for (const { channelId } of sends) feeding.set(channelId, [...(feeding.get(channelId) ?? []), id]);
  }
  const fed = reached(soloed, (id) => (feeding.get(id) ?? []).filter((from) => !isMuted(from)));
  return { heard: new Set([...direct, ...fed]), direct };
}

/** All that can be reached, the beginnings too. */
function reached(from: readonly string[], next: (id: string) => readonly string[]): Set<string> {
  const found = new Set(from);
  // A set goes on over what is added while it is walked through.
  for (const id of found) for (const other of next(id)) found.add(other);
  return found;
}
