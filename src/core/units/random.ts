/** Seeded random numbers: the same seed gives the same sequence on every machine. */

/** A source of random numbers in [0, 1). */
export type Random = () => number;

/**
 * The generator "mulberry32" (T. Ettinger, public domain): 32 bits of state, period 2^32; enough to deal patterns,
 * not for secrets.
 * @param seed any whole number; only its low 32 bits count
 */
export function seededRandom(seed: number): Random {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** A new array in random order (Fisher and Yates; Knuth, The Art of Computer Programming, vol. 2, algorithm 3.4.2P). */
export function shuffled<T>(items: readonly T[], random: Random): T[] {
  const out = [...items];
  for (let last = out.length - 1; last > 0; last--) {
    const pick = Math.floor(random() * (last + 1));
    [out[last], out[pick]] = [out[pick] as T, out[last] as T];
  }
  return out;
}
