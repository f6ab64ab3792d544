/** How large prints are (see prints.ts): all that those need who only store them. */

/** Levels of a print, one byte each. */
export const PRINT_BYTES = 51;
/** Of a sound with more slices the first are told. */
export const MOST_PRINTS = 48;
