import { defineConfig } from '@playwright/test';
import { browserPath } from './scripts/lib/browser.mjs';

export default defineConfig({
  testDir: 'tests/e2e',
  timeout: 240_000,
  expect: { timeout: 45_000 },
  // One library and two cores: tests would wait for each other's measurements.
  workers: 1,
  forbidOnly: Boolean(process.env.CI),
  outputDir: 'test-results',
  reporter: [['list'], ['json']],
  use: {
    baseURL: process.env.GRENTO_ADDRESS,
    // The guide stands on a first visit; here nobody comes for the first time.
    storageState: {
      cookies: [],
      origins: [
        {
          origin: process.env.GRENTO_ADDRESS ?? '',
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
