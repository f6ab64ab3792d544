/** How far apart sounds may be and still be alike (see likeness.ts); all that the page needs of it. */
export const ALIKE_WITHIN = 0.5;
