/** Puts strips that overlap in time on rows of their own. */

/** Row of each strip, in the order given: the first row that is free when it begins. */
export function assignRows(strips: readonly { positionTicks: number; lengthTicks: number }[]): number[] {
  const freeFrom: number[] = [];
  return strips.map(({ positionTicks, lengthTicks }) => {
    let row = freeFrom.findIndex((ticks) => ticks <= positionTicks + 1e-6);
    if (row < 0) row = freeFrom.length;
    freeFrom[row] = positionTicks + lengthTicks;
    return row;
  });
}
