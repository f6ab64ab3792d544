/**
 * A chain of effects by itself: copied from channel to channel, and kept on the shelf under a name. As JSON it says which
 * version it is of.
 */
import type { Channel, Effect, ProjectDocument } from '../document/schema.ts';

/** Version of chains, which grows by itself: see core/shelf/chain.ts. */
export const CHAIN_VERSION = 1;

export interface Chain {
  schemaVersion: number;
  name: string;
  /** In their order. */
  effects: Omit<Effect, 'id'>[];
  /** How much of it is wet. */
  values: Pick<Channel['values'], 'chainWet'>;
}

/** The chain of a channel, under a name. */
export function chainOf({ effects }: ProjectDocument, { effectOrder, values }: Channel, name: string): Chain {
  return {
    schemaVersion: CHAIN_VERSION,
    name,
    effects: effectOrder.map((effectId) => {
      const { id: _, ...effect } = effects[effectId]!;
      return effect;
    }),
    values: values.chainWet === undefined ? {} : { chainWet: values.chainWet },
  };
}

/** A chain as it is kept outside of its project: it listens to nothing there. */
export function chainToKeep(chain: Chain): Chain {
  return { ...chain, effects: chain.effects.map((effect) => ({ ...effect, sideChannelId: null })) };
}
