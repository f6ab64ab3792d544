/** Which slices of the shelf sound like one: the nearest prints, the nearest slice of each sound. Pure. */
import { PRINT_BYTES } from '../analysis/print-size.ts';
import { printDistance, type Prints } from '../analysis/prints.ts';

export interface SoundWithPrints extends Prints {
  id: string;
}

export interface NearSlice {
  id: string;
  /** Place of the slice in its sound, from 0. */
  place: number;
  startFrame: number;
  /** Up to the next print; null for the last. */
  endFrame: number | null;
  /** In units of 10 dB; 0 is the same. */
  distance: number;
}

/**
 * @param like the sound and the slice that others are compared with; that sound itself is left out
 * @returns the nearest first, one of each sound
 */
export function nearestSlices(
  sounds: readonly SoundWithPrints[],
  like: { id: string; place: number },
  most: number,
): NearSlice[] {
  const own = sounds.find(({ id }) => id === like.id);
  if (!own || like.place >= own.startFrames.length) return [];
  const at = like.place * PRINT_BYTES;
  const found = sounds.flatMap((sound): NearSlice[] => {
    if (sound.id === like.id) return [];
    let best = -1;
    let least = Infinity;
    for (let place = 0; place < sound.startFrames.length; place++) {
      const distance = printDistance(own.bytes, at, sound.bytes, place * PRINT_BYTES, least);
      if (distance < least) [best, least] = [place, distance];
    }
    if (best < 0) return [];
    const { id, startFrames } = sound;
    const endFrame = startFrames[best + 1] ?? null;
    return [{ id, place: best, startFrame: startFrames[best]!, endFrame, distance: least }];
  });
  return found.sort((a, b) => a.distance - b.distance).slice(0, most);
}
