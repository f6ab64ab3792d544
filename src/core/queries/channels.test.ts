import { describe, expect, it } from 'vitest';
import type { Channel } from '../document/schema.ts';
import { audibleChannels } from './channels.ts';

const channel = (id: string, values: Channel['values'] = {}, outputId: string | null = null): [string, Channel] => [
  id,
  { id, kind: id === 'main' ? 'main' : 'part', outputId, values, effectOrder: [] },
];
const SENDS = ['drums room', 'keys room', 'keys echo', 'room tail'];
type Song = Parameters<typeof audibleChannels>[0];

/** Who is heard, and who is heard where it is led to. */
const names = (song: Song, only?: string) => {
  const { heard, isOpen } = audibleChannels(song, only);
  const isNamed = (id: string) => id !== 'main';
  const open = [...heard].filter((id) => isOpen(id, song.channels[id]!.outputId ?? 'main'));
  return [[...heard], open].map((ids) => ids.filter(isNamed).sort().join());
};

describe('what is heard of channels', () => {
  const song = (values: Record<string, Channel['values']> = {}, drumsTo: string | null = null): Song => ({
    parts: {},
    channels: Object.fromEntries([
      channel('main'),
      channel('drums', values.drums, drumsTo),
      channel('bass', values.bass),
      channel('keys', values.keys),
      channel('room', values.room),
      channel('echo', values.echo),
      channel('tail', values.tail),
    ]),
    sends: Object.fromEntries(
      SENDS.map((id) => {
        const [fromChannelId, toChannelId] = id.split(' ') as [string, string];
        return [id, { id, fromChannelId, toChannelId, values: {} }];
      }),
    ),
  });

  it.each<[string, Record<string, Channel['values']>, string, string]>([
    ['nothing set: all', {}, 'bass,drums,echo,keys,room,tail', 'bass,drums,echo,keys,room,tail'],
    ['one muted: the others', { bass: { muted: true } }, 'drums,echo,keys,room,tail', 'drums,echo,keys,room,tail'],
    ['a part soloed: with what carries it', { drums: { soloed: true } }, 'drums,room,tail', 'drums,room,tail'],
    [
      'a bus soloed: what feeds it is heard through it alone',
      { room: { soloed: true } },
      'drums,keys,room,tail',
      'room,tail',
    ],
    [
      'a bus soloed, one that feeds it muted',
      { room: { soloed: true }, keys: { muted: true } },
      'drums,room,tail',
      'room,tail',
    ],
    ['two soloed', { bass: { soloed: true }, echo: { soloed: true } }, 'bass,echo,keys', 'bass,echo'],
  ])('%s', (_what, values, heard, direct) => {
    expect(names(song(values))).toEqual([heard, direct]);
  });

  it('one alone: that, and what carries it, whatever is muted', () => {
    expect(names(song({ drums: { muted: true }, bass: { soloed: true } }), 'drums')).toEqual([
      'drums,room,tail',
      'drums,room,tail',
    ]);
  });

  it('a bus soloed: what is led into it is heard there, and sends nowhere else', () => {
    const led = song({ echo: { soloed: true } }, 'echo');
    expect(names(led)).toEqual(['drums,echo,keys', 'drums,echo']);
    const { isOpen } = audibleChannels(led);
    expect([isOpen('drums', 'echo'), isOpen('drums', 'room'), isOpen('echo', 'main')]).toEqual([true, false, true]);
  });

  it('a bus that carries what is soloed is heard with what it plays itself', () => {
    expect(names(song({ drums: { soloed: true } }, 'echo'))[0]).toBe('drums,echo,room,tail');
  });
});
