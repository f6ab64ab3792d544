import { existsSync } from 'node:fs';

/** Debian's Chromium, without its windows where it is there: see scripts/lib/steps.mjs. */
export const CHROMIUM = [process.env.CHROMIUM, '/usr/bin/chromium-headless-shell', '/usr/bin/chromium'].find(
  (path) => path && existsSync(path),
);
