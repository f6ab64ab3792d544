/** What is not needed at once is fetched when the page has come to rest, and not in the way of its first load. */
const QUIET_MS = 3_000;

export function whenQuiet(fetch: () => unknown): void {
  if (typeof requestIdleCallback === 'undefined') return void setTimeout(fetch, QUIET_MS);
  setTimeout(() => requestIdleCallback(() => void fetch(), { timeout: QUIET_MS }), QUIET_MS);
}
