/** What is heard of the channels: mutes, solos, and what leads from one to another. */
import type { Channel, ProjectDocument } from '../document/schema.ts';
import { channelValues } from './values.ts';

type Mix = Pick<ProjectDocument, 'channels' | 'sends' | 'parts'>;

/** The channel that all others come to. */
export function mainChannel({ channels }: Pick<ProjectDocument, 'channels'>): Channel {
  return Object.values(channels).find(({ kind }) => kind === 'main')!;
}

export interface Audible {
  /** Channels that are not silent. */
  heard: ReadonlySet<string>;
  /** Is what leads from one channel to another to be heard? */
  isOpen(fromId: string, toId: string): boolean;
}

/**
 * With a channel soloed that is heard, with all that it is led and sent to; what feeds it is heard through it alone, unless
 * it is muted. A bus that sounds of its own is heard when what it carries is soloed.
 * @param only hears this channel alone, and what carries it, whatever is muted or soloed
 */
export function audibleChannels({ channels, sends, parts }: Mix, only?: string): Audible {
  const all = Object.values(channels);
  const isMuted = (id: string) => channelValues(channels[id]!).muted;
  const soloed = only === undefined ? all.filter((one) => channelValues(one).soloed).map(({ id }) => id) : [only];
  if (soloed.length === 0) {
    const heard = new Set(all.map(({ id }) => id).filter((id) => !isMuted(id)));
    return { heard, isOpen: () => true };
  }
  const { to, from } = waysOf({ channels, sends, parts });
  const carrying = reached(soloed, (id) => to.get(id) ?? []);
  if (only !== undefined) return { heard: carrying, isOpen: (fromId) => carrying.has(fromId) };
  const feeding = reached(soloed, (id) => (from.get(id) ?? []).filter((other) => !isMuted(other)));
  return {
    heard: new Set([...carrying, ...feeding]),
    isOpen: (fromId, toId) => carrying.has(fromId) || feeding.has(toId),
  };
}

function waysOf({ channels, sends, parts }: Mix): { to: Map<string, string[]>; from: Map<string, string[]> } {
  const to = new Map<string, string[]>();
  const from = new Map<string, string[]>();
  const add = (fromId: string, toId: string) => {
    to.set(fromId, [...(to.get(fromId) ?? []), toId]);
    from.set(toId, [...(from.get(toId) ?? []), fromId]);
  };
  const main = mainChannel({ channels });
  for (const { id, outputId } of Object.values(channels)) if (id !== main.id) add(id, outputId ?? main.id);
  for (const { fromChannelId, toChannelId } of Object.values(sends)) add(fromChannelId, toChannelId);
  for (const { channelId, doubles = [] } of Object.values(parts)) {
    for (const one of doubles) if (one.channelId !== undefined) add(channelId, one.channelId);
  }
  return { to, from };
}

/** All that can be reached, the beginnings too. */
function reached(from: readonly string[], next: (id: string) => readonly string[]): Set<string> {
  const found = new Set(from);
  // A set goes on over what is added while it is walked through.
  for (const id of found) for (const other of next(id)) found.add(other);
  return found;
}
