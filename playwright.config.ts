import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './tests/e2e/chromium.ts';

/** As many at a time: each has a server of its own, on the ports from here on (see tests/e2e/one-window.ts). */
const WORKERS = 2;
const FIRST_PORT = 4791;

const ports = Array.from({ length: WORKERS }, (_, worker) => FIRST_PORT + worker);

export default defineConfig({
  testDir: 'tests/e2e',
  // Much of a test is waiting for sound that takes its time.
  workers: WORKERS,
  fullyParallel: true,
  // Generous: machines that run tests are often busy with others' work, too.
  timeout: 120_000,
  expect: { timeout: 20_000 },
  retries: 0,
  reporter: [['list']],
  outputDir: 'test-results',
  use: {
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    contextOptions: { reducedMotion: 'reduce' },
    // What keeps the application has a test of its own; the others are to meet what was built last.
    serviceWorkers: 'block',
    launchOptions: {
      executablePath: CHROMIUM,
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--autoplay-policy=no-user-gesture-required',
      ],
    },
  },
  webServer: {
    command: `node tests/e2e/servers.mjs ${ports.join(' ')}`,
    url: `http://localhost:${ports.at(-1)!}/api/health`,
    timeout: 180_000,
    reuseExistingServer: false,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 10_000 },
  },
});
