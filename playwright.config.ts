import { defineConfig } from '@playwright/test';
import { PAGES_ONLY } from './tests/e2e/browser';

export default defineConfig({
  testDir: 'tests/e2e',
  outputDir: 'test-results',
  // Each file starts a product of its own, and waits for it a third of the time: three files for two cores.
  workers: 3,
  timeout: 120_000,
  expect: { timeout: 15_000 },
  retries: 0,
  use: {
    viewport: { width: 1280, height: 800 },
    timezoneId: 'Europe/Lisbon',
    locale: 'en-GB',
    // What is recorded of each step costs a third of the time: only where somebody looks for what went wrong.
    trace: process.env.TRACE ? 'retain-on-failure' : 'off',
    screenshot: 'only-on-failure',
    ...PAGES_ONLY,
  },
});
