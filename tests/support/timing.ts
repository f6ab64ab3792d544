/** How long something takes when nothing else is in its way: the shortest of several times, in milliseconds. */
export function shortestMs(work: () => void, times = 5): number {
  let shortest = Infinity;
  for (let n = 0; n < times; n++) {
    const from = performance.now();
    work();
    shortest = Math.min(shortest, performance.now() - from);
  }
  return shortest;
}
