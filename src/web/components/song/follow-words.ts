import type { Part } from '#core/project/schema.ts';

/** How a part follows the song's tempo, in words. */
export const FOLLOW_WORDS: Record<Part['follow'], string> = {
  slices: 'by slices',
  stretch: 'by stretching',
  speed: 'by speed',
  none: 'not at all',
};
