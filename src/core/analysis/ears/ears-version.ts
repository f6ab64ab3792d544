/**
 * Counts up when the ears hear otherwise than before, so that a guess of older ones is told from a new one. 1: bands and
 * rules, which told no version; 2: two looks, learned (learning/make.sh); 3: alike slices of a loop get one guess.
 */
export const EARS_VERSION = 3;
