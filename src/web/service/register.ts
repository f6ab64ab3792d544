/** Has the application kept by its service worker, once the page has come to rest. */
import { whenQuiet } from '../when-quiet.ts';

/** Without a safe address (another machine's, without encryption) browsers keep nothing. */
export function keepApplication(): void {
  if (!('serviceWorker' in navigator) || !import.meta.env.PROD) return;
  whenQuiet(() => navigator.serviceWorker.register('/sw.js').catch(() => undefined));
}
