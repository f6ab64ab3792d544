import { defineConfig } from '@playwright/test';

const port = 4791;

export default defineConfig({
  testDir: 'tests/e2e',
  // One at a time: the tests listen to real time sound.
  workers: 1,
  // Generous: machines that run tests are often busy with others' work, too.
  timeout: 120_000,
  expect: { timeout: 20_000 },
  retries: 0,
  reporter: [['list']],
  outputDir: 'test-results',
  use: {
    baseURL: `http://localhost:${port}`,
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    // What keeps the application has a test of its own; the others are to meet what was built last.
    serviceWorkers: 'block',
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
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
    command: 'npx tsx demo/make-demo.ts data/e2e/demo.sqlite && node dist/server/main.js',
    env: { PORT: String(port), YAPPA_DATA: 'data/e2e', YAPPA_DB: 'demo.sqlite', LOG_LEVEL: 'warn' },
    url: `http://localhost:${port}/api/health`,
    timeout: 180_000,
    reuseExistingServer: false,
  },
});
