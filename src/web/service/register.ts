/** Has the application kept by its service worker, once the page has come to rest. */

/** After this a page that has loaded does nothing more of its own. */
const QUIET_MS = 4_000;

/** Without a safe address (another machine's, without encryption) browsers keep nothing. */
export function keepApplication(): void {
  if (!('serviceWorker' in navigator) || !import.meta.env.PROD) return;
  const register = () => void navigator.serviceWorker.register('/sw.js').catch(() => undefined);
  setTimeout(() => requestIdleCallback(register, { timeout: QUIET_MS }), QUIET_MS);
}
