/**
 * Keeps the built application for the server's own address, so that an open window works on, with all its parts, while the
 * server is away, and a reload finds it again. What it asks the server for (`/api`) goes by untouched: what is not saved
 * is kept by the page itself.
 */
import { clientsClaim } from 'workbox-core';
import { precacheAndRoute } from 'workbox-precaching';
import { registerRoute } from 'workbox-routing';
import { NetworkFirst } from 'workbox-strategies';

/** The files of the build, put in by it. Each has its content in its name: one that is there is never asked for again. */
declare const BUILT_FILES: { url: string; revision: null }[];

/** A server that is slow to answer is taken for one that is away. */
const SERVER_SECONDS = 5;

precacheAndRoute(BUILT_FILES);

const PAGE = 'page';
// The page that brought this worker came before it.
addEventListener('install', (event) => {
  (event as Event & { waitUntil(work: Promise<unknown>): void }).waitUntil(
    caches.open(PAGE).then((kept) => kept.add('/')),
  );
});

// The page itself is the same at every address. The server's own comes first: it may be a newer one.
registerRoute(
  ({ request }) => request.mode === 'navigate',
  new NetworkFirst({
    cacheName: PAGE,
    networkTimeoutSeconds: SERVER_SECONDS,
    plugins: [{ cacheKeyWillBeUsed: () => Promise.resolve('/') }],
  }),
);

// The first window has it from the beginning. A newer one waits until the windows of the older one are closed: their
// parts are those that it keeps.
clientsClaim();
