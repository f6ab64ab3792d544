/** The effects of a channel: put in, moved, taken out, switched; what they listen to; whole chains. */
import type { EffectKind } from '../../params/effects.ts';
import { withoutDangling } from '../../document/references.ts';
import type { Channel, Effect, ProjectDocument } from '../../document/schema.ts';
import type { Chain } from '../chain-of.ts';
import { ledOtherwise } from './channels.ts';
import { done, find, refused, type Command, type CommandEnv, type CommandResult } from './command.ts';

/** Most effects of a channel: the document has room for no more. */
const MOST_EFFECTS = 32;

function withChannel(
  document: ProjectDocument,
  channelId: string,
  change: (channel: Channel) => Channel,
): CommandResult {
  const channel = find(document.channels, channelId);
  if (!channel) return refused('this channel is gone');
  return done({ ...document, channels: { ...document.channels, [channelId]: change(channel) } });
}

/** The channel that an effect stands in. */
function channelOf({ channels }: ProjectDocument, effectId: string): Channel | undefined {
  return Object.values(channels).find(({ effectOrder }) => effectOrder.includes(effectId));
}

function put(order: readonly string[], ids: readonly string[], place: number): string[] {
  const next = [...order];
  next.splice(Math.max(0, Math.min(place, next.length)), 0, ...ids);
  return next;
}

/** Puts effects into a channel, at a place in its order. */
function withEffects(document: ProjectDocument, channelId: string, effects: Effect[], place: number): CommandResult {
  const count = (find(document.channels, channelId)?.effectOrder.length ?? 0) + effects.length;
  if (count > MOST_EFFECTS) return refused(`a chain has ${MOST_EFFECTS} effects at most: take one out first`);
  const added = withChannel(document, channelId, (channel) => ({
    ...channel,
    effectOrder: put(
      channel.effectOrder,
      effects.map(({ id }) => id),
      place,
    ),
  }));
  if (!added.ok) return added;
  const records = Object.fromEntries(effects.map((effect) => [effect.id, effect]));
  return ledOtherwise({ ...added.document, effects: { ...document.effects, ...records } });
}

/** Puts a new effect into a channel, at a place in its order or at the end. */
export const addEffect: Command<{ channelId: string; kind: EffectKind; place?: number }> = (document, args, env) => {
  const { channelId, kind, place = Infinity } = args;
  const effect = { id: env.newId(), kind, bypassed: false, sideChannelId: null, values: {} };
  return withEffects(document, channelId, [effect], place);
};

/** Puts an effect once more behind itself. */
export const copyEffect: Command<{ effectId: string }> = (document, { effectId }, env) => {
  const effect = find(document.effects, effectId);
  const channel = channelOf(document, effectId);
  if (!effect || !channel) return refused('this effect is gone');
  return withEffects(document, channel.id, [{ ...effect, id: env.newId() }], channel.effectOrder.indexOf(effectId) + 1);
};

/** Moves an effect to a place in the order of its channel, as the order is without it. */
export const moveEffect: Command<{ effectId: string; place: number }> = (document, { effectId, place }) => {
  const channel = channelOf(document, effectId);
  if (!channel) return refused('this effect is gone');
  const others = channel.effectOrder.filter((id) => id !== effectId);
  return withChannel(document, channel.id, () => ({ ...channel, effectOrder: put(others, [effectId], place) }));
};

export const removeEffect: Command<{ effectId: string }> = (document, { effectId }) => {
  const channel = channelOf(document, effectId);
  if (!channel) return refused('this effect is gone already');
  const effectOrder = channel.effectOrder.filter((other) => other !== effectId);
  const channels = { ...document.channels, [channel.id]: { ...channel, effectOrder } };
  return done(withoutDangling({ ...document, channels }));
};

export const bypassEffect: Command<{ effectId: string; bypassed: boolean }> = (document, { effectId, bypassed }) => {
  const effect = find(document.effects, effectId);
  if (!effect) return refused('this effect is gone');
  return done({ ...document, effects: { ...document.effects, [effectId]: { ...effect, bypassed } } });
};

/** Lets an effect listen to another channel; with null to its own alone. */
export const listenTo: Command<{ effectId: string; sideChannelId: string | null }> = (
  document,
  { effectId, sideChannelId },
) => {
  const effect = find(document.effects, effectId);
  if (!effect) return refused('this effect is gone');
  if (sideChannelId !== null && !find(document.channels, sideChannelId)) return refused('this channel is gone');
  return ledOtherwise({ ...document, effects: { ...document.effects, [effectId]: { ...effect, sideChannelId } } });
};

/** The effects of a chain as records of a document; what they would listen to is gone, or would lead round, is left out. */
function effectsOf(document: ProjectDocument, { effects }: Chain, channelId: string, env: CommandEnv): Effect[] {
  return effects.map(({ sideChannelId, ...effect }) => {
    const isThere = sideChannelId !== channelId && find(document.channels, sideChannelId ?? undefined) !== undefined;
    return { ...effect, id: env.newId(), sideChannelId: isThere ? sideChannelId : null };
  });
}

/** Puts a whole chain on a channel, in the place of the one that is there. */
export const putChain: Command<{ channelId: string; chain: Chain }> = (document, { channelId, chain }, env) => {
  const channel = find(document.channels, channelId);
  if (!channel) return refused('this channel is gone');
  const { chainWet: _wet, chain: _on, ...others } = channel.values;
  const bare = { ...channel, effectOrder: [], values: { ...others, ...chain.values } };
  const emptied = withoutDangling({ ...document, channels: { ...document.channels, [channelId]: bare } });
  const effects = effectsOf(document, chain, channelId, env);
  const added = withEffects(emptied, channelId, effects, 0);
  if (added.ok) return added;
  // What it would listen to leads back here: it listens to its own channel.
  return withEffects(
    emptied,
    channelId,
    effects.map((effect) => ({ ...effect, sideChannelId: null })),
    0,
  );
};
