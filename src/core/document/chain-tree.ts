/** A chain with its paths side by side: in the order of a channel those of a fork come right behind it. */
import { MOST_PATHS } from '../params/effect-rows/paths.ts';

/** Of an effect all that tells where it stands. */
interface Placed {
  kind: string;
  path?: number;
}

export interface ChainItem<T extends Placed> {
  effect: T;
  /** The effects of each path; empty for what is no fork. */
  paths: readonly (readonly T[])[];
}

/** Each effect in line, with what its paths hold. */
export function chainTree<T extends Placed>(effects: readonly T[]): ChainItem<T>[] {
  const items: { effect: T; paths: T[][] }[] = [];
  for (const effect of effects) {
    const path = effect.path === undefined ? undefined : items.at(-1)?.paths[effect.path];
    // In a path by itself it stands in line.
    if (path) path.push(effect);
    else items.push({ effect, paths: effect.kind === 'paths' ? Array.from({ length: MOST_PATHS }, () => []) : [] });
  }
  return items;
}

/** The first effect that names a path where there is none; paths in paths are none. */
export function strayOfChain<T extends Placed>(effects: readonly T[]): T | null {
  let isBehindFork = false;
  for (const effect of effects) {
    if (effect.path === undefined) isBehindFork = effect.kind === 'paths';
    else if (!isBehindFork || effect.kind === 'paths') return effect;
  }
  return null;
}
