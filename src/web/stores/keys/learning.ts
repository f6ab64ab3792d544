/**
 * Learning what a controller moves: a setting is chosen and a controller moved, in either order. What is asked of fields is
 * kept here; who listens to devices is fetched when it begins.
 */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import type { Owner } from '#core/project/commands/values.ts';
import type { MappingSource, MappingTarget } from '#core/document/schema.ts';
import { useProject } from '../document/project.ts';

/** What was moved on which device. */
export interface Moved {
  device: string;
  channel: number | null;
  source: MappingSource;
}

export const useLearning = defineStore('learning', () => {
  const project = useProject();
  const isOn = ref(false);
  const target = shallowRef<MappingTarget | null>(null);
  /** What the target is called. */
  const words = ref('');
  const moved = shallowRef<Moved | null>(null);
  /** Called when both are there; set by who makes mappings. */
  let complete: (() => void) | null = null;

  /** The setting of a field, as a controller may move it; null for what it may not. */
  function targetOf(owners: readonly Owner[], paramId: string): MappingTarget | null {
    const [owner, second] = owners;
    if (!owner || owner.kind === 'event' || owner.kind === 'section') return null;
    if (owner.kind !== 'song' && owner.kind === 'mapping') return null;
    if (owner.kind === 'song') return { kind: 'setting', owner: 'song', id: null, paramId };
    const partId = owner.kind === 'zone' && second ? project.document?.zones[owner.id]?.partId : undefined;
    if (partId !== undefined) return { kind: 'setting', owner: 'sounds', id: partId, paramId };
    return { kind: 'setting', owner: owner.kind, id: owner.id, paramId };
  }

  const isSame = (a: MappingTarget | null, b: MappingTarget | null) => JSON.stringify(a) === JSON.stringify(b);
  const isChosen = (one: MappingTarget | null) => one !== null && isSame(target.value, one);

  function choose(wanted: MappingTarget, called: string): void {
    target.value = isSame(target.value, wanted) ? null : wanted;
    words.value = target.value ? called : '';
    if (target.value && moved.value) complete?.();
  }

  function hear(what: Moved): void {
    moved.value = what;
    if (target.value) complete?.();
  }

  function begin(): void {
    isOn.value = true;
  }

  function end(): void {
    isOn.value = false;
    target.value = moved.value = null;
    words.value = '';
  }

  /** Chosen first: the next that is moved moves it. */
  function learn(wanted: MappingTarget, called: string): void {
    begin();
    target.value = null;
    moved.value = null;
    choose(wanted, called);
  }

  return {
    isOn,
    target,
    words,
    moved,
    isWaiting: computed(() => isOn.value && target.value !== null),
    targetOf,
    isChosen,
    choose,
    hear,
    begin,
    end,
    learn,
    onComplete: (act: () => void) => (complete = act),
  };
});
