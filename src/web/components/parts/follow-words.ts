import { FOLLOWS, type Follow } from '#core/params/choices.ts';

/** How a part follows the song's tempo, in words. */
export const FOLLOW_WORDS = Object.fromEntries(FOLLOWS.map(({ value, words }) => [value, words])) as Record<
  Follow,
  string
>;
