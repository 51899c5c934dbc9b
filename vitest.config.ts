import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

// Dates are said in the reader's zone; tests read in one zone everywhere.
process.env.TZ = 'UTC';

const UNIT = { include: ['tests/unit/**/*.test.ts'], testTimeout: 60_000 };
const ALONE = 'tests/unit/**/*.alone.test.ts';

export default defineConfig({
  resolve: { alias: { '@': fileURLToPath(new URL('src', import.meta.url)) } },
  test: {
    projects: [
      // One after the other in the same process: loading everything anew for each file is a third of the time.
      { extends: true, test: { ...UNIT, name: 'unit', exclude: [ALONE], isolate: false } },
      // Those that put something else in the place of a module.
      { extends: true, test: { ...UNIT, name: 'unit alone', include: [ALONE] } },
      {
        extends: true,
        test: {
          name: 'integration',
          include: ['tests/integration/**/*.test.ts'],
          globalSetup: ['tests/integration/write-document.ts'],
          setupFiles: ['tests/integration/described.ts'],
          testTimeout: 90_000,
          hookTimeout: 90_000,
          // These start real servers and processes, and wait for them much of the time: three files for two cores.
          maxWorkers: 3,
        },
      },
    ],
  },
});
