/** The effects of a channel: put in, moved, taken out, switched; what they listen to; paths side by side; whole chains. */
import { MOST_PATHS } from '../../params/effect-rows/paths.ts';
import { EFFECT_ROWS, type EffectKind } from '../../params/effects.ts';
import { fullValues } from '../../params/row.ts';
import { withoutDangling } from '../../document/references.ts';
import type { Channel, Effect, ProjectDocument } from '../../document/schema.ts';
import { chainTree } from '../../document/chain-tree.ts';
import type { Chain } from '../chain-of.ts';
import {
  chainOfChannel,
  placeOf,
  withChain,
  withItems,
  withoutItem,
  type Chain as Items,
  type ChainPlace,
} from '../chain-order.ts';
import { ledOtherwise } from './channels.ts';
import { done, find, refused, type Command, type CommandEnv, type CommandResult } from './command.ts';

/** Most effects of a channel: the document has room for no more. */
const MOST_EFFECTS = 32;
const NO_PATH = 'there is no such path here: paths side by side stand in the chain, not in another path';

/** The channel that an effect stands in, and its chain. */
function standsIn(document: ProjectDocument, effectId: string): { channel: Channel; items: Items } | null {
  const channel = Object.values(document.channels).find(({ effectOrder }) => effectOrder.includes(effectId));
  return channel ? { channel, items: chainOfChannel(document, channel) } : null;
}

/** Puts effects into a channel, those of paths with what they stand in. */
function withEffects(document: ProjectDocument, channel: Channel, effects: Effect[], at: ChainPlace): CommandResult {
  if (channel.effectOrder.length + effects.length > MOST_EFFECTS)
    return refused(`a chain has ${MOST_EFFECTS} effects at most: take one out first`);
  const items = withItems(chainOfChannel(document, channel), chainTree(effects), at);
  return items ? ledOtherwise(withChain(document, channel, items)) : refused(NO_PATH);
}

/** Puts a new effect into a channel: in line, or in a path. */
export const addEffect: Command<{ channelId: string; kind: EffectKind } & ChainPlace> = (document, args, env) => {
  const { channelId, kind, ...at } = args;
  const channel = find(document.channels, channelId);
  if (!channel) return refused('this channel is gone');
  const effect = { id: env.newId(), kind, bypassed: false, sideChannelId: null, values: {} };
  return withEffects(document, channel, [effect], at);
};

/** Puts an effect once more behind itself, with all in its paths. */
export const copyEffect: Command<{ effectId: string }> = (document, { effectId }, env) => {
  const found = standsIn(document, effectId);
  const taken = found && withoutItem(found.items, effectId);
  if (!taken) return refused('this effect is gone');
  const { effect, paths } = taken.item;
  const copies = [effect, ...paths.flat()].map((one) => ({ ...one, id: env.newId() }));
  const at = placeOf(found.items, effectId);
  return withEffects(document, found.channel, copies, { ...at, place: at.place + 1 });
};

/** Moves an effect, with all in its paths, to a place in its channel, as that is without it. */
export const moveEffect: Command<{ effectId: string } & ChainPlace> = (document, { effectId, ...at }) => {
  const found = standsIn(document, effectId);
  const taken = found && withoutItem(found.items, effectId);
  if (!taken) return refused('this effect is gone');
  const items = withItems(taken.rest, [taken.item], at);
  return items ? done(withChain(document, found.channel, items)) : refused(NO_PATH);
};

export const removeEffect: Command<{ effectId: string }> = (document, { effectId }) => {
  const found = standsIn(document, effectId);
  const taken = found && withoutItem(found.items, effectId);
  if (!taken) return refused('this effect is gone already');
  return done(withoutDangling(withChain(document, found.channel, taken.rest)));
};

/** Takes a path out of those side by side, with all in it; those behind it move up. */
export const removePath: Command<{ forkId: string; path: number }> = (document, { forkId, path }) => {
  const found = standsIn(document, forkId);
  const fork = found?.items.find(({ effect }) => effect.id === forkId);
  if (!fork || fork.effect.kind !== 'paths') return refused('these paths are gone');
  const { count, level1, level2, level3, level4 } = fullValues(EFFECT_ROWS.paths, fork.effect.values);
  if (path >= count) return refused('this path is gone already');
  if (count === 2) return refused('two paths are the fewest: take them out as a whole');
  const without = <T>(list: readonly T[]) => list.filter((_, at) => at !== path);
  const levels = without([level1, level2, level3, level4]);
  const [first, second, third] = levels;
  const values = { ...fork.effect.values, count: count - 1, level1: first!, level2: second!, level3: third! };
  const effect = { ...fork.effect, values };
  const paths = [...without(fork.paths), ...Array.from({ length: MOST_PATHS - fork.paths.length + 1 }, () => [])];
  const items = found!.items.map((one) => (one === fork ? { effect, paths } : one));
  return done(withoutDangling(withChain(document, found!.channel, items)));
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
  const added = withEffects(emptied, bare, effects, {});
  if (added.ok) return added;
  // What it would listen to leads back here: it listens to its own channel.
  const deaf = effects.map((effect) => ({ ...effect, sideChannelId: null }));
  return withEffects(emptied, bare, deaf, {});
};
