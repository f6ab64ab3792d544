/** A sound on its way from where it is shown to a key, or to a part of the rail: taken up in one place, put down in another. */
import { defineStore } from 'pinia';
import { shallowRef } from 'vue';

export interface CarriedSound {
  words: string;
  /** Puts it down on a key of the chosen part. */
  drop: (key: number) => void;
  /** Puts it down on a part, on its first free key; with null on a new one. */
  dropOnPart?: (partId: string | null) => void;
}

/** Stands for a part that is not there yet. */
export const NEW_PART = 'new';

/** What takes a carried sound: the key at a place on the screen; null beside the keys. */
type KeyFinder = (clientX: number, clientY: number) => number | null;

export const useSoundDrag = defineStore('sound-drag', () => {
  const carried = shallowRef<CarriedSound | null>(null);
  /** The key that it would be put down on. */
  const overKey = shallowRef<number | null>(null);
  /** The part that it would be put down on. */
  const overPartId = shallowRef<string | null>(null);
  const finders = new Set<KeyFinder>();

  function over(event: PointerEvent): void {
    overKey.value = null;
    for (const find of finders) overKey.value ??= find(event.clientX, event.clientY);
    const under = document
      .elementFromPoint(event.clientX, event.clientY)
      ?.closest<HTMLElement>('[data-part-id], [data-new-part]');
    const id = under?.dataset.partId ?? (under ? NEW_PART : null);
    overPartId.value = carried.value?.dropOnPart ? id : null;
  }

  /** Takes a sound up at the first move of the pointer, and follows it. */
  function move(sound: CarriedSound, event: PointerEvent): void {
    carried.value = sound;
    over(event);
  }

  /** @returns true when it was put down */
  function putDown(): boolean {
    const { value: sound } = carried;
    const key = overKey.value;
    const partId = overPartId.value;
    giveUp();
    if (sound && key !== null) sound.drop(key);
    else if (sound && partId !== null) sound.dropOnPart?.(partId === NEW_PART ? null : partId);
    else return false;
    return true;
  }

  function giveUp(): void {
    carried.value = null;
    overKey.value = null;
    overPartId.value = null;
  }

  /** Says which key lies where. @returns forgets it again */
  function offerKeys(find: KeyFinder): () => void {
    finders.add(find);
    return () => finders.delete(find);
  }

  return { carried, overKey, overPartId, move, putDown, giveUp, offerKeys };
});
