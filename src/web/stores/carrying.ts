/** A sound on its way from where it is shown to a key: taken up in one band, put down in another. */
import { defineStore } from 'pinia';
import { shallowRef } from 'vue';

export interface CarriedSound {
  words: string;
  /** Puts it down on a key. */
  drop: (key: number) => void;
}

/** What takes a carried sound: the key at a place on the screen; null beside the keys. */
type KeyFinder = (clientX: number, clientY: number) => number | null;

export const useCarrying = defineStore('carrying', () => {
  const carried = shallowRef<CarriedSound | null>(null);
  /** The key that it would be put down on. */
  const overKey = shallowRef<number | null>(null);
  const finders = new Set<KeyFinder>();

  function over(event: PointerEvent): void {
    overKey.value = null;
    for (const find of finders) overKey.value ??= find(event.clientX, event.clientY);
  }

  /** Takes a sound up at the first move of the pointer, and follows it. */
  function move(sound: CarriedSound, event: PointerEvent): void {
    carried.value = sound;
    over(event);
  }

  /** @returns true when it was put down on a key */
  function putDown(): boolean {
    const { value: sound } = carried;
    const key = overKey.value;
    giveUp();
    if (!sound || key === null) return false;
    sound.drop(key);
    return true;
  }

  function giveUp(): void {
    carried.value = null;
    overKey.value = null;
  }

  /** Says which key lies where. @returns forgets it again */
  function offerKeys(find: KeyFinder): () => void {
    finders.add(find);
    return () => finders.delete(find);
  }

  return { carried, overKey, move, putDown, giveUp, offerKeys };
});
