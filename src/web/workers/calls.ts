/** How many calls into workers wait for their answer. By itself: the first page loads it, and no worker yet. */
let waiting = 0;

export function countCalls(by: number): void {
  waiting += by;
}

export const callsOnTheWay = (): number => waiting;
