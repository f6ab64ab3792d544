/** What a pattern that is dragged to a row of the running order says of itself: this, and the id of its part. */
export const PATTERN_DRAG = 'application/x-yappa-pattern-';
