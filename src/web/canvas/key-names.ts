/** Names of keys as the user counts octaves: a setting of this browser, which changes names and nothing else. */
import { useStorage } from '@vueuse/core';
import { noteName } from '#core/units/pitch.ts';

export const MIDDLE_OCTAVES = [3, 4, 5] as const;

/** The octave that note 60 carries. */
export const middleOctave = useStorage<(typeof MIDDLE_OCTAVES)[number]>('yappa.middle-octave', 4);

/** A key by its name, e.g. C4. */
export function keyName(note: number): string {
  return noteName(note, middleOctave.value);
}
