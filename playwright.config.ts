import { defineConfig } from '@playwright/test';

const baseURL = process.env.YOKE_URL ?? 'http://127.0.0.1:4600';

/** Browser tests on Debian's Chromium, against the server that `npm test` has started. */
export default defineConfig({
  testDir: 'e2e',
  outputDir: 'test-results',
  workers: 2,
  retries: 0,
  // No test depends on speed: these only end one that hangs.
  timeout: 900_000,
  expect: { timeout: 300_000 },
  reporter: [['line'], ['json']],
  use: {
    baseURL,
    viewport: { width: 1280, height: 800 },
    // A first start opens a machine by itself; that has a test of its own.
    storageState: {
      cookies: [],
      origins: [{ origin: baseURL, localStorage: [{ name: 'yoke-welcomed', value: 'true' }] }],
    },
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
