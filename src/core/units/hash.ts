/** Random numbers that follow from what they are for, and not from what was drawn before: the same on every machine. */

/** Mixes two whole numbers into one of 32 bits (the output mixing of M. O'Neill, "PCG", 2014). */
export function mix32(seed: number, place: number): number {
  let state = (Math.imul(seed ^ Math.imul(place + 1, 0x9e3779b1), 747796405) + 2891336453) >>> 0;
  state = Math.imul(((state >>> ((state >>> 28) + 4)) ^ state) >>> 0, 277803737) >>> 0;
  return ((state >>> 22) ^ state) >>> 0;
}

/** A number of [0, 1) that follows from two whole numbers. */
export function hashed01(seed: number, place: number): number {
  return mix32(seed, place) / 4294967296;
}

/** A whole number of 32 bits that follows from a text (FNV-1a: Fowler, Noll, Vo). */
export function textHash(text: string): number {
  let hash = 2166136261;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 16777619);
  return hash >>> 0;
}
