import { defineConfig } from '@playwright/test';
import base from './playwright.config';

/** Measures instead of checking: `npm run bench:browser`. Nothing is recorded, which takes frames itself. */
export default defineConfig({
  ...base,
  use: { ...base.use, trace: 'off', screenshot: 'off' },
  testDir: 'tests/bench',
  reporter: [['line'], ['json']],
});
