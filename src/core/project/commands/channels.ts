/** Channels: where they lead and what they send to each other. */
import { newChannel } from '../../document/defaults.ts';
import { withoutDangling } from '../../document/references.ts';
import { circleOf } from '../../document/rules/channels.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { done, find, refused, type Command, type CommandResult } from './command.ts';

const CIRCLE = 'the signal would lead back to where it came from: choose another channel';

/** A document with signals led otherwise, unless they would go round. */
export function ledOtherwise(document: ProjectDocument): CommandResult {
  return circleOf(document) === null ? done(document) : refused(CIRCLE);
}

/** A bus that others can be led into, with a name. */
export const addBus: Command<{ name: string }> = (document, { name }, env) => {
  const trimmed = name.trim().slice(0, 200);
  if (!trimmed) return refused('a bus needs a name');
  const bus = { ...newChannel(env.newId(), 'bus'), name: trimmed };
  return done({ ...document, channels: { ...document.channels, [bus.id]: bus } });
};

export const renameBus: Command<{ channelId: string; name: string }> = (document, { channelId, name }) => {
  const bus = find(document.channels, channelId);
  if (bus?.kind !== 'bus') return refused('this bus is gone');
  const trimmed = name.trim().slice(0, 200);
  if (!trimmed) return refused('a bus needs a name');
  return done({ ...document, channels: { ...document.channels, [channelId]: { ...bus, name: trimmed } } });
};

/** Takes a bus away: what was led into it comes to the main channel. */
export const removeBus: Command<{ channelId: string }> = (document, { channelId }) => {
  if (find(document.channels, channelId)?.kind !== 'bus') return refused('this bus is gone already');
  const { [channelId]: _gone, ...channels } = document.channels;
  return done(withoutDangling({ ...document, channels }));
};

/** Leads a channel into a bus; with null to the main channel. */
export const leadTo: Command<{ channelId: string; outputId: string | null }> = (document, { channelId, outputId }) => {
  const channel = find(document.channels, channelId);
  if (!channel) return refused('this channel is gone');
  if (channel.kind === 'main') return refused('the main channel is the last of all');
  if (outputId !== null && find(document.channels, outputId)?.kind !== 'bus') return refused('this bus is gone');
  return ledOtherwise({ ...document, channels: { ...document.channels, [channelId]: { ...channel, outputId } } });
};

const MOST_SENDS = 16;

/** Sends a copy of a channel's signal to another; its level is a setting like any other. */
export const addSend: Command<{ fromChannelId: string; toChannelId: string }> = (document, args, env) => {
  const { fromChannelId, toChannelId } = args;
  if (!find(document.channels, fromChannelId) || !find(document.channels, toChannelId))
    return refused('this channel is gone');
  const own = Object.values(document.sends).filter((send) => send.fromChannelId === fromChannelId);
  if (own.some((send) => send.toChannelId === toChannelId)) return refused('it is sent there already');
  if (own.length >= MOST_SENDS) return refused(`a channel has ${MOST_SENDS} sends at most: take one away first`);
  const send = { id: env.newId(), fromChannelId, toChannelId, values: {} };
  return ledOtherwise({ ...document, sends: { ...document.sends, [send.id]: send } });
};

export const removeSend: Command<{ sendId: string }> = (document, { sendId }) => {
  if (!find(document.sends, sendId)) return refused('this is sent no more already');
  const { [sendId]: _gone, ...sends } = document.sends;
  return done(withoutDangling({ ...document, sends }));
};
