import type { Knex } from 'knex';
import * as accounts from './20261101-accounts';
import * as watches from './20261102-watches';
import * as history from './20261103-history';
import * as messages from './20261104-messages';
import * as pages from './20261105-pages';
import * as why from './20261123-why';
import * as sharing from './20261124-sharing';
import * as jobs from './20261125-jobs';
import * as access from './20261126-access';
import * as days from './20261126-days';
import * as ownTroubles from './20261126-own-troubles';
import * as deeds from './20261127-deeds';
import * as units from './20261128-units';
import * as telling from './20261129-telling';
import * as refs from './20261130-refs';
import * as fallbacks from './20261201-fallbacks';
import * as drills from './20261202-drills';
import * as toldWindows from './20261203-told-windows';

interface Step {
  name: string;
  up: (db: Knex) => Promise<void>;
  down: (db: Knex) => Promise<void>;
}

/** Every step in order; a step that was released is never changed. */
const STEPS: Step[] = [
  { name: '20261101-accounts', ...accounts },
  { name: '20261102-watches', ...watches },
  { name: '20261103-history', ...history },
  { name: '20261104-messages', ...messages },
  { name: '20261105-pages', ...pages },
  { name: '20261123-why', ...why },
  { name: '20261124-sharing', ...sharing },
  { name: '20261125-jobs', ...jobs },
  { name: '20261126-access', ...access },
  { name: '20261126-own-troubles', ...ownTroubles },
  { name: '20261126-days', ...days },
  { name: '20261127-deeds', ...deeds },
  { name: '20261128-units', ...units },
  { name: '20261129-telling', ...telling },
  { name: '20261130-refs', ...refs },
  { name: '20261201-fallbacks', ...fallbacks },
  { name: '20261202-drills', ...drills },
  { name: '20261203-told-windows', ...toldWindows },
];

/** The names of all steps this version knows. */
export const STEP_NAMES: readonly string[] = STEPS.map((step) => step.name);

export const migrationSource: Knex.MigrationSource<Step> = {
  getMigrations: async () => STEPS,
  getMigrationName: (step) => step.name,
  getMigration: async (step) => step,
};
