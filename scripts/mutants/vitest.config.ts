import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

process.env.TZ = 'UTC';

// Changed code is tried against the tests that are quick; which those are is up to the piece (scripts/mutants.mjs).
export default defineConfig({
  resolve: { alias: { '@': fileURLToPath(new URL('../../src', import.meta.url)) } },
  test: {
    include: (process.env.MUTANT_TESTS ?? 'tests/unit/**/*.test.ts').split(','),
    setupFiles: [fileURLToPath(new URL('in-threads.ts', import.meta.url))],
    testTimeout: 60_000,
    fileParallelism: true,
  },
});
