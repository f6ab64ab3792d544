import { describe, expect, it } from 'vitest';
import type { Channel } from '../project/schema.ts';
import { audibleChannels } from './channels.ts';

const channel = (id: string, to: string[] = [], values: Channel['values'] = {}): [string, Channel] => [
  id,
  { id, values, effectOrder: [], sends: to.map((channelId) => ({ channelId, gainDb: 0 })) },
];
const names = ({ heard, direct }: ReturnType<typeof audibleChannels>) => [
  [...heard].sort().join(),
  [...direct].sort().join(),
];

describe('what is heard of channels', () => {
  const song = (values: Record<string, Channel['values']> = {}) =>
    Object.fromEntries([
      channel('drums', ['room'], values.drums),
      channel('bass', [], values.bass),
      channel('keys', ['room', 'echo'], values.keys),
      channel('room', ['tail'], values.room),
      channel('echo', [], values.echo),
      channel('tail', [], values.tail),
    ]);

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
    expect(names(audibleChannels(song(values)))).toEqual([heard, direct]);
  });

  it('one alone: that, and what carries it, whatever is muted', () => {
    expect(names(audibleChannels(song({ drums: { muted: true }, bass: { soloed: true } }), 'drums'))).toEqual([
      'drums,room,tail',
      'drums,room,tail',
    ]);
  });
});
