/**
 * Where a sound is cut off: a step to nothing is as broad a click as a hit, but nothing is heard after it. Told from the
 * samples, for the low bands ring on.
 */

/** In milliseconds from where something may begin. */
const BEFORE_MS = { from: -30, to: -3 };
/** Even the shortest hit is still heard then; and what begins softly, which is told to some 40 ms, then. */
const HIT_STAYS_MS = 10;
const SOFT_STAYS_MS = 45;
const AFTER_MS = 6;
/** A signal whose last moment is silent is silent from there on. */
const LAST_MS = 3;
/** So much less, in power, is left of what sounded; and it is so far below the loudest sample: -40 and -60 dB. */
const LEFT = 1e-4;
const SILENCE = 1e-6;

/** As likely as this, of what speaks for it otherwise, something begins where all that sounds stops. */
export const ENDS_SHARE = 0.1;

/** Mean square between two frames; what lies beyond the signal is silence. */
function power(signal: Float32Array, from: number, to: number): number {
  let sum = 0;
  for (let i = Math.max(0, from); i < Math.min(signal.length, to); i++) sum += signal[i]! * signal[i]!;
  return sum / Math.max(1, to - from);
}

/**
 * @param frame where something may begin
 * @param peak the loudest sample of the signal
 * @param isSoft it is something that begins without a hit
 * @returns whether what sounds before a frame is gone right after it. A signal that sounds up to its end goes on, for all
 *   that is known: there is no end in it.
 */
export function endsAt(
  signal: Float32Array,
  sampleRate: number,
  frame: number,
  peak: number,
  isSoft: boolean,
): boolean {
  const framesOf = (ms: number) => Math.round((ms / 1000) * sampleRate);
  const from = frame + framesOf(isSoft ? SOFT_STAYS_MS : HIT_STAYS_MS);
  const to = from + framesOf(AFTER_MS);
  const loud = peak * peak;
  if (to > signal.length) {
    const last = power(signal, Math.max(frame, signal.length - framesOf(LAST_MS)), signal.length);
    if (last > SILENCE * loud) return false;
  }
  const before = power(signal, frame + framesOf(BEFORE_MS.from), frame + framesOf(BEFORE_MS.to));
  const after = power(signal, from, to);
  return after < LEFT * before && after < SILENCE * loud;
}
