/**
 * What can be done by a shortcut or by name. Whoever can do something says so while it is on screen; the keyboard, the
 * search and the tooltips find it here.
 */
import { defineStore } from 'pinia';
import { onScopeDispose, shallowRef } from 'vue';
import type { ActionId } from '../../input/shortcuts.ts';

export type Actions = Partial<Record<ActionId, () => void>>;

export const useActions = defineStore('actions', () => {
  const offers = shallowRef<readonly Actions[]>([]);
  /** Those of a place that has its own meaning for them: they come first. */
  const ofPlace = new WeakSet<Actions>();

  /** Offers actions as long as the calling component lives; the latest offer of an action counts. */
  function offer(actions: Actions): void {
    offers.value = [...offers.value, actions];
    onScopeDispose(() => (offers.value = offers.value.filter((other) => other !== actions)));
  }

  /** {@link offer} that comes before all others, whenever those were made. */
  function offerFirst(actions: Actions): void {
    ofPlace.add(actions);
    offer(actions);
  }

  function find(action: ActionId): (() => void) | undefined {
    const able = offers.value.filter((actions) => actions[action]);
    return (able.findLast((actions) => ofPlace.has(actions)) ?? able.at(-1))?.[action];
  }

  /** Does it; gives false where nobody can. */
  function run(action: ActionId): boolean {
    const act = find(action);
    act?.();
    return act !== undefined;
  }

  return { offer, offerFirst, run, isOffered: (action: ActionId) => find(action) !== undefined };
});
