/** Channels of version 4 in version 5: of what kind each is, with a main channel; sends as records. */

type Json = Record<string, unknown>;
type Table = Record<string, Json>;

export function mixOf4(document: Json): { channels: Table; sends: Table } {
  const before = (document.channels ?? {}) as Table;
  const ofParts = new Set(Object.values((document.parts ?? {}) as Table).map(({ channelId }) => channelId));
  let mainId = 'main';
  while (Object.hasOwn(before, mainId)) mainId += '-1';
  const channels: Table = { [mainId]: { id: mainId, kind: 'main', outputId: null, values: {}, effectOrder: [] } };
  const sends: Table = {};
  for (const { sends: list, ...channel } of Object.values(before)) {
    channels[channel.id as string] = { ...channel, kind: ofParts.has(channel.id) ? 'part' : 'bus', outputId: null };
    for (const { channelId, gainDb } of (list ?? []) as Json[]) {
      const id = `send-${Object.keys(sends).length + 1}`;
      sends[id] = { id, fromChannelId: channel.id, toChannelId: channelId, values: gainDb === 0 ? {} : { gainDb } };
    }
  }
  return { channels, sends };
}
