/** What is not needed at once is fetched when the page has come to rest, and not in the way of its first load. */
const QUIET_MS = 3_000;

/** @param afterMs sooner what a hand may ask for first */
export function whenQuiet(fetch: () => unknown, afterMs = QUIET_MS): void {
  if (typeof requestIdleCallback === 'undefined') return void setTimeout(fetch, afterMs);
  setTimeout(() => requestIdleCallback(() => void fetch(), { timeout: QUIET_MS }), afterMs);
}

/** Until then. */
export function untilQuiet(afterMs = 800): Promise<void> {
  return new Promise((resolve) => whenQuiet(resolve, afterMs));
}
