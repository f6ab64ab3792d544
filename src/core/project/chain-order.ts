/** The order of a chain, changed: where an effect stands in line, or in a path of those side by side. */
import type { Channel, Effect, ProjectDocument } from '../document/schema.ts';
import { chainTree, type ChainItem } from '../document/chain-tree.ts';

/** A place in the line of a chain, or in a path of a fork of it; at the end when no number is said. */
export interface ChainPlace {
  place?: number;
  forkId?: string;
  /** From 0. */
  path?: number;
}

/** A chain in line, each effect with those in its paths. */
export type Chain = readonly ChainItem<Effect>[];

export function chainOfChannel({ effects }: Pick<ProjectDocument, 'effects'>, { effectOrder }: Channel): Chain {
  return chainTree(effectOrder.map((id) => effects[id]!));
}

function inserted<T>(list: readonly T[], items: readonly T[], place = Infinity): T[] {
  const next = [...list];
  next.splice(Math.max(0, Math.min(place, next.length)), 0, ...items);
  return next;
}

/** With items at a place; null where no such path is, or one of them would stand in a path with paths of its own. */
export function withItems(chain: Chain, items: Chain, { place, forkId, path = 0 }: ChainPlace): Chain | null {
  if (forkId === undefined) return inserted(chain, items, place);
  const fork = chain.find(({ effect }) => effect.id === forkId);
  if (!fork?.paths[path] || items.some(({ effect }) => effect.kind === 'paths')) return null;
  const effects = items.map(({ effect }) => effect);
  const paths = fork.paths.map((one, at) => (at === path ? inserted(one, effects, place) : one));
  return chain.map((one) => (one === fork ? { ...fork, paths } : one));
}

/** Without an effect, and that with all in its paths; null where it does not stand in the chain. */
export function withoutItem(chain: Chain, effectId: string): { rest: Chain; item: ChainItem<Effect> } | null {
  const inLine = chain.find(({ effect }) => effect.id === effectId);
  if (inLine) return { rest: chain.filter((one) => one !== inLine), item: inLine };
  const found = chain.flatMap(({ paths }) => paths.flat()).find(({ id }) => id === effectId);
  if (!found) return null;
  const rest = chain.map((one) => ({
    ...one,
    paths: one.paths.map((path) => path.filter((other) => other !== found)),
  }));
  return { rest, item: { effect: found, paths: [] } };
}

/** Where an effect stands. */
export function placeOf(chain: Chain, effectId: string): Required<Pick<ChainPlace, 'place'>> & ChainPlace {
  for (const [place, { effect, paths }] of chain.entries()) {
    if (effect.id === effectId) return { place };
    for (const [path, effects] of paths.entries()) {
      const at = effects.findIndex(({ id }) => id === effectId);
      if (at >= 0) return { place: at, forkId: effect.id, path };
    }
  }
  return { place: chain.length };
}

/** The channel and the effects of a document with this chain. */
export function withChain(document: ProjectDocument, channel: Channel, chain: Chain): ProjectDocument {
  const placed = chain.flatMap(({ effect, paths }) => [
    inPath(effect, undefined),
    ...paths.flatMap((path, at) => path.map((one) => inPath(one, at))),
  ]);
  const changed = placed.filter((effect) => document.effects[effect.id] !== effect);
  const effectOrder = placed.map(({ id }) => id);
  return {
    ...document,
    channels: { ...document.channels, [channel.id]: { ...channel, effectOrder } },
    effects: { ...document.effects, ...Object.fromEntries(changed.map((effect) => [effect.id, effect])) },
  };
}

function inPath(effect: Effect, path: number | undefined): Effect {
  if (effect.path === path) return effect;
  const { path: _, ...inLine } = effect;
  return path === undefined ? inLine : { ...inLine, path };
}
