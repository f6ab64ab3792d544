/** Choices that have names in the code, too. */

/** What a loop is made of: it decides how long the windows of a stretch are, and how much after an attack stays untouched. */
export const MATERIALS = ['drums', 'notes', 'mixes'] as const;
export type Material = (typeof MATERIALS)[number];

/** Sounds of the click. */
export const CLICK_SOUNDS = ['tick', 'block', 'noise'] as const;
export type ClickSound = (typeof CLICK_SOUNDS)[number];

/** How a cut keeps the song's tempo; see docs/timing.md. */
export const FOLLOWS = [
  { value: 'slices', words: 'by slices' },
  { value: 'stretch', words: 'by stretching' },
  { value: 'speed', words: 'by speed' },
  { value: 'none', words: 'not at all' },
] as const;
export type Follow = (typeof FOLLOWS)[number]['value'];

/** What fills the gap after a slice when the song is slower than the loop. */
export const TAILS = [
  { value: 'ring', words: 'ring on' },
  { value: 'fade', words: 'fade' },
  { value: 'leave', words: 'leave' },
] as const;
export type Tail = (typeof TAILS)[number]['value'];

/** Grids that a part's feel is measured on, a step of them as a share of a beat. */
export const FEEL_STEPS = [
  { value: 'sixteenths', words: '1/16', beats: 1 / 4 },
  { value: 'triplets', words: '1/8 triplet', beats: 1 / 3 },
  { value: 'short triplets', words: '1/16 triplet', beats: 1 / 6 },
] as const;
export type FeelStep = (typeof FEEL_STEPS)[number]['value'];
