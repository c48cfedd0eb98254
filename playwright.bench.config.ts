import { defineConfig } from '@playwright/test';
import base from './playwright.config';

/** Measures instead of checking: `npm run bench:browser`. */
export default defineConfig({ ...base, testDir: 'tests/bench', reporter: [['line'], ['json']] });
