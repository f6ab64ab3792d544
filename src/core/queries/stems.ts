/** What comes to the mix, one by one: parts and buses, as each of them is led to it. */
import type { Channel, ProjectDocument } from '../document/schema.ts';
import { mainChannel } from './channels.ts';
import { nameOfChannel } from './channel-names.ts';

export interface StemWish {
  /** Through the chains of parts and buses; without them what is heard is as it comes into them. */
  withChains: boolean;
  withSends: boolean;
}

/**
 * The document whose stems add up to its own mix: that of the project without the chain and level of the mix itself.
 */
export function stemsDocument(document: ProjectDocument, { withChains, withSends }: StemWish): ProjectDocument {
  const main = mainChannel(document);
  const bare = (channel: Channel): Channel => {
    if (channel.id === main.id) return { ...channel, values: {}, effectOrder: [] };
    return withChains ? channel : { ...channel, effectOrder: [] };
  };
  const channels = Object.fromEntries(Object.entries(document.channels).map(([id, channel]) => [id, bare(channel)]));
  return { ...document, channels, sends: withSends ? document.sends : {} };
}

/** The channels that are led to the mix, parts first; of buses those that something may come to. */
export function stemChannels(document: ProjectDocument): { id: string; name: string }[] {
  const main = mainChannel(document);
  const ofParts = document.partOrder.map((partId) => document.parts[partId]!.channelId);
  const all = [...ofParts, ...Object.keys(document.channels).filter((id) => !ofParts.includes(id) && id !== main.id)];
  return all
    .filter((id) => (document.channels[id]!.outputId ?? main.id) === main.id)
    .map((id) => ({ id, name: nameOfChannel(document, id) }));
}
