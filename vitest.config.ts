import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';
import { BaseSequencer, type TestSpecification } from 'vitest/node';

// Dates are said in the reader's zone; tests read in one zone everywhere.
process.env.TZ = 'UTC';

const UNIT = {
  include: ['tests/unit/**/*.test.ts'],
  setupFiles: ['tests/unit/tries.ts'],
  testTimeout: 60_000,
  // A third of the time is waiting for what takes its time: three files for two cores.
  maxWorkers: 3,
  sequence: { groupOrder: 0 },
};
const ALONE = 'tests/unit/**/*.alone.test.ts';

const INTEGRATION = {
  include: ['tests/integration/**/*.test.ts'],
  globalSetup: ['tests/integration/write-document.ts'],
  setupFiles: ['tests/integration/described.ts'],
  testTimeout: 90_000,
  hookTimeout: 90_000,
  // These start real servers and processes, and wait for them half of the time: five files for two cores.
  maxWorkers: 5,
  // What is run by a name that both have, one after the other.
  sequence: { groupOrder: 1 },
};
/** They wait for what takes its time; begun last, they would be waited for by everybody. */
const LONGEST = [
  'installed',
  'silence',
  'crash',
  'engine',
  'access',
  'front-door',
  'real-cron',
  'real-chat',
  'storm',
];

class LongestFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const rank = ({ moduleId }: TestSpecification) => {
      const found = LONGEST.findIndex((name) => moduleId.endsWith(`/${name}.test.ts`));
      return found < 0 ? LONGEST.length : found;
    };
    const sorted = await super.sort(files);
    return sorted.toSorted((a, b) => rank(a) - rank(b));
  }
}

/** A database that was opened leaves its file mask behind: those that open one share their processes with each other. */
const WITH_A_DATABASE = ['tests/integration/store/*.test.ts'];
/** A part on a clock of the test's own leaves its timers; real servers bring accounts and masks of their own. */
const IN_A_PROCESS_OF_THEIR_OWN = [
  'tests/integration/neighbours/*.test.ts',
  'tests/integration/checkins/mail-door.test.ts',
  'tests/integration/messages/teller.test.ts',
];

export default defineConfig({
  resolve: { alias: { '@': fileURLToPath(new URL('src', import.meta.url)) } },
  test: {
    // What the tests of core were made of is there for those of the product.
    experimental: { fsModuleCache: true },
    sequence: { sequencer: LongestFirst },
    projects: [
      // One after the other in the same process: loading everything anew for each file is a third of the time.
      { extends: true, test: { ...UNIT, name: 'unit', exclude: [ALONE], isolate: false } },
      // Those that put something else in the place of a module.
      { extends: true, test: { ...UNIT, name: 'unit alone', include: [ALONE] } },
      {
        extends: true,
        test: {
          ...INTEGRATION,
          name: 'integration',
          exclude: [...IN_A_PROCESS_OF_THEIR_OWN, ...WITH_A_DATABASE],
          isolate: false,
        },
      },
      {
        extends: true,
        test: { ...INTEGRATION, name: 'integration store', include: WITH_A_DATABASE, isolate: false },
      },
      {
        extends: true,
        test: { ...INTEGRATION, name: 'integration alone', include: IN_A_PROCESS_OF_THEIR_OWN },
      },
    ],
  },
});
