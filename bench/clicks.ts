/** Clicks: moments at which a signal leaps as it does nowhere near. */

/** How far a leap must stand out of the leaps around; of the loudest sample around, what it must be at least. */
const STANDS_OUT = 10;
const SHARE_OF_PEAK = 0.01;
/** The least leap that counts, of full scale. */
const MIN_LEAP = 2e-4;
/** Surroundings: from so near to so far on either side. */
const NEAR_SECONDS = 0.0007;
const FAR_SECONDS = 0.006;
/** Attacks leap: what lies this near to one is none. */
const ATTACK_SECONDS = 0.004;

/**
 * Frames of the clicks: where the third difference (what is left of a smooth signal is next to nothing) is ten times what
 * it is in the 6 ms before and after, and a hundredth of the loudest sample there.
 */
export function findClicks(signal: Float32Array, sampleRate: number): number[] {
  const near = Math.round(NEAR_SECONDS * sampleRate);
  const far = Math.round(FAR_SECONDS * sampleRate);
  const leaps = signal.map((value, i) =>
    i < 3 ? 0 : Math.abs(value - 3 * signal[i - 1]! + 3 * signal[i - 2]! - signal[i - 3]!),
  );
  const found: number[] = [];
  for (let i = far; i < leaps.length - far; i++) {
    const leap = leaps[i]!;
    if (leap < MIN_LEAP || i - (found.at(-1) ?? -Infinity) < far) continue;
    let around = 0;
    let peak = 0;
    for (let k = near; k < far && leap > Math.max(STANDS_OUT * around, SHARE_OF_PEAK * peak); k++) {
      around = Math.max(around, leaps[i - k]!, leaps[i + k]!);
      peak = Math.max(peak, Math.abs(signal[i - k]!), Math.abs(signal[i + k]!));
    }
    if (leap > Math.max(STANDS_OUT * around, SHARE_OF_PEAK * peak)) found.push(i);
  }
  return found;
}

/**
 * How many clicks a result has that the ideal has not, away from the attacks. A leap of an ideal attack that is missing
 * there excuses one: it is that attack in another place, which is the timing's fault.
 */
export function countAddedClicks(
  ideal: Float32Array,
  result: Float32Array,
  sampleRate: number,
  attacks: readonly number[],
): number {
  const reach = ATTACK_SECONDS * sampleRate;
  const isNear = (places: readonly number[], frame: number) => places.some((place) => Math.abs(place - frame) < reach);
  const clicks = findClicks(result, sampleRate);
  const moved = findClicks(ideal, sampleRate).filter((frame) => isNear(attacks, frame) && !isNear(clicks, frame));
  return Math.max(0, clicks.filter((frame) => !isNear(attacks, frame)).length - moved.length);
}
