import { defineConfig } from '@playwright/test';
import { browserPath } from './scripts/lib/browser.mjs';

/** One application for each worker. */
const addresses = (process.env.GRENTO_ADDRESSES ?? '').split(' ');
const address = addresses[Number(process.env.TEST_PARALLEL_INDEX ?? 0)];

export default defineConfig({
  testDir: 'tests/e2e',
  // Long ones are run by themselves (`npm run test:long`), or when they are named.
  testIgnore: process.env.GRENTO_LONG ? [] : '**/*.long.spec.ts',
  timeout: 120_000,
  expect: { timeout: 45_000 },
  // Each worker has a library of its own; the tests of a file follow each other.
  workers: addresses.length,
  forbidOnly: Boolean(process.env.CI),
  outputDir: 'test-results',
  reporter: [['list'], ['json']],
  use: {
    baseURL: address,
    // The guide stands on a first visit; here nobody comes for the first time.
    storageState: {
      cookies: [],
      origins: [
        {
          origin: address,
          localStorage: [{ name: 'grento-guide', value: 'left' }],
        },
      ],
    },
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: browserPath(),
      args: ['--autoplay-policy=no-user-gesture-required'],
    },
    // A recording takes as much as the test itself.
    trace: process.env.GRENTO_TRACE ? 'retain-on-failure' : 'off',
    screenshot: 'only-on-failure',
  },
});
