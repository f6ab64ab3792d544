/** Most slices that one cut can have. */
export const MAX_SLICES = 4096;
