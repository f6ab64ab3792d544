/** The bend of a stretch between two levels, as envelopes have it. */

/** How far a full bend goes: 8 time constants in the stretch. */
const MOST = 8;

/**
 * Share of the way that is gone after a share of the time: `(1 - e^(-8 b x)) / (1 - e^(-8 b))`, a straight line for no
 * bend; the exponential segments of the trade (C. Roads, "The Computer Music Tutorial", 1996, on envelopes, from memory).
 * @param share of the time, 0..1
 * @param amount -1..1: above 0 quick at first, below 0 slow at first
 */
export function bent(share: number, amount: number): number {
  const k = MOST * amount;
  if (Math.abs(k) < 1e-6) return share;
  return (1 - Math.exp(-k * share)) / (1 - Math.exp(-k));
}

/** The share of the time after which a share of the way is gone: {@link bent} backwards. @param way 0..1 */
export function unbent(way: number, amount: number): number {
  const k = MOST * amount;
  if (Math.abs(k) < 1e-6) return way;
  return -Math.log(1 - way * (1 - Math.exp(-k))) / k;
}
