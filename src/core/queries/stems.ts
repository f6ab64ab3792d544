/** What comes to the mix, one by one: parts, or kinds of drum in them, and buses, as each of them is led to it. */
import type { Role } from '../analysis/role-names.ts';
import type { Channel, Part, ProjectDocument } from '../document/schema.ts';
import { mainChannel } from './channels.ts';
import { nameOfChannel } from './channel-names.ts';
import { zonesOfPart } from './zones.ts';

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

/** What a stem has in it. */
export interface Stem {
  channelId: string;
  name: string;
  /** Of a part's sounds these alone; left out: all that the channel gives. */
  only?: { partId: string; zoneIds: string[] } | undefined;
}

/**
 * What is led to the mix, parts first; of buses those that something may come to.
 * @param byDrum a part of several drums is taken apart, each kind of drum by itself
 */
export function stemsOf(document: ProjectDocument, byDrum: boolean): Stem[] {
  const main = mainChannel(document);
  const parts = document.partOrder.map((partId) => document.parts[partId]!);
  const ofParts = parts.flatMap((part): Stem[] => {
    const { channelId } = part;
    const name = nameOfChannel(document, channelId);
    const drums = byDrum ? drumsOf(document, part) : [];
    if (drums.length < 2) return [{ channelId, name }];
    return drums.map(([drum, zoneIds]) => ({ channelId, name: `${name} ${drum}`, only: { partId: part.id, zoneIds } }));
  });
  const known = new Set(ofParts.map(({ channelId }) => channelId));
  const others = Object.keys(document.channels).filter((id) => !known.has(id) && id !== main.id);
  return [...ofParts, ...others.map((channelId) => ({ channelId, name: nameOfChannel(document, channelId) }))].filter(
    ({ channelId }) => (document.channels[channelId]!.outputId ?? main.id) === main.id,
  );
}

const DRUM_OF: Record<Role, string> = {
  kick: 'kicks',
  snare: 'snares',
  rim: 'snares',
  clap: 'snares',
  'closed hat': 'hats',
  'open hat': 'hats',
  tom: 'toms',
  cymbal: 'cymbals',
  percussion: 'percussion',
  bass: 'notes',
  note: 'notes',
  chord: 'notes',
  other: 'others',
};

/** The sounds of a part by kind of drum, in the order in which they first lie in it. */
function drumsOf(document: ProjectDocument, part: Part): [drum: string, zoneIds: string[]][] {
  const byDrum = new Map<string, string[]>();
  for (const { zone, at } of zonesOfPart(document, part)) {
    const drum = DRUM_OF[at.slice.role];
    byDrum.set(drum, [...(byDrum.get(drum) ?? []), zone.id]);
  }
  return [...byDrum];
}
