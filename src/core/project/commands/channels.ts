/** Channels: their effects and where they send to. */
import type { EffectKind } from '../../params/effects.ts';
import type { Channel, ProjectDocument } from '../schema.ts';
import { done, find, refused, type Command, type CommandResult } from './command.ts';

function withChannel(
  document: ProjectDocument,
  channelId: string,
  change: (channel: Channel) => Channel,
): CommandResult {
  const channel = find(document.channels, channelId);
  if (!channel) return refused('this channel is gone');
  return done({ ...document, channels: { ...document.channels, [channelId]: change(channel) } });
}

/** Puts a new effect into a channel, at a place in its order or at the end. */
export const addEffect: Command<{ channelId: string; kind: EffectKind; place?: number }> = (document, args, env) => {
  const { channelId, kind, place = Infinity } = args;
  const id = env.newId();
  const added = withChannel(document, channelId, (channel) => {
    const effectOrder = [...channel.effectOrder];
    effectOrder.splice(Math.max(0, Math.min(place, effectOrder.length)), 0, id);
    return { ...channel, effectOrder };
  });
  if (!added.ok) return added;
  const effect = { id, kind, bypassed: false, sideChannelId: null, values: {} };
  return done({ ...added.document, effects: { ...document.effects, [id]: effect } });
};

export const removeEffect: Command<{ effectId: string }> = (document, { effectId }) => {
  const channel = Object.values(document.channels).find((one) => one.effectOrder.includes(effectId));
  if (!channel) return refused('this effect is gone already');
  const { [effectId]: _gone, ...effects } = document.effects;
  return withChannel({ ...document, effects }, channel.id, (current) => ({
    ...current,
    effectOrder: current.effectOrder.filter((other) => other !== effectId),
  }));
};

export const bypassEffect: Command<{ effectId: string; bypassed: boolean }> = (document, { effectId, bypassed }) => {
  const effect = find(document.effects, effectId);
  if (!effect) return refused('this effect is gone');
  return done({ ...document, effects: { ...document.effects, [effectId]: { ...effect, bypassed } } });
};

/** Sends a copy of a channel's signal to another at a level in dB; null takes the send away. */
export const setSend: Command<{ channelId: string; toChannelId: string; gainDb: number | null }> = (document, args) => {
  if (!find(document.channels, args.toChannelId)) return refused('this channel is gone');
  return withChannel(document, args.channelId, (channel) => {
    const sends = channel.sends.filter((send) => send.channelId !== args.toChannelId);
    if (args.gainDb !== null) sends.push({ channelId: args.toChannelId, gainDb: args.gainDb });
    return { ...channel, sends };
  });
};
