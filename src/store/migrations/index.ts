import type { Knex } from 'knex';
import * as accounts from './2026-11/20261101-accounts';
import * as watches from './2026-11/20261102-watches';
import * as history from './2026-11/20261103-history';
import * as messages from './2026-11/20261104-messages';
import * as pages from './2026-11/20261105-pages';
import * as why from './2026-11/20261123-why';
import * as sharing from './2026-11/20261124-sharing';
import * as jobs from './2026-11/20261125-jobs';
import * as access from './2026-11/20261126-access';
import * as days from './2026-11/20261126-days';
import * as ownTroubles from './2026-11/20261126-own-troubles';
import * as deeds from './2026-11/20261127-deeds';
import * as units from './2026-11/20261128-units';
import * as telling from './2026-11/20261129-telling';
import * as publicTexts from './2026-12/20261214-public-texts';
import * as pictures from './2026-12/20261215-pictures';
import * as privateBadges from './2026-12/20261216-private-badges';
import * as bounces from './2026-12/20261217-bounces';
import * as outageIndexes from './2026-12/20261218-outage-indexes';
import * as watchDigests from './2026-12/20261219-watch-digests';
import * as packedHours from './2026-12/20261220-packed-hours';
import * as formerSlugs from './2027-01/20270101-former-slugs';
import * as refs from './2026-11/20261130-refs';
import * as fallbacks from './2026-12/20261201-fallbacks';
import * as drills from './2026-12/20261202-drills';
import * as toldWindows from './2026-12/20261203-told-windows';
import * as addresses from './2026-12/20261205-addresses';
import * as words from './2026-12/20261204-words';
import * as leftOut from './2026-12/20261213-left-out';
import * as listening from './2026-12/20261207-listening';
import * as runs from './2026-12/20261206-runs';
import * as pageSettings from './2026-12/20261208-page-settings';
import * as incidents from './2026-12/20261209-incidents';
import * as pageCopies from './2026-12/20261210-page-copies';
import * as followers from './2026-12/20261212-followers';
import * as maintenance from './2026-12/20261211-maintenance';

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
  { name: '20261204-words', ...words },
  { name: '20261205-addresses', ...addresses },
  { name: '20261206-runs', ...runs },
  { name: '20261207-listening', ...listening },
  { name: '20261208-page-settings', ...pageSettings },
  { name: '20261209-incidents', ...incidents },
  { name: '20261210-page-copies', ...pageCopies },
  { name: '20261211-maintenance', ...maintenance },
  { name: '20261212-followers', ...followers },
  { name: '20261213-left-out', ...leftOut },
  { name: '20261214-public-texts', ...publicTexts },
  { name: '20261215-pictures', ...pictures },
  { name: '20261216-private-badges', ...privateBadges },
  { name: '20261217-bounces', ...bounces },
  { name: '20261218-outage-indexes', ...outageIndexes },
  { name: '20261219-watch-digests', ...watchDigests },
  { name: '20261220-packed-hours', ...packedHours },
  { name: '20270101-former-slugs', ...formerSlugs },
];

/** The names of all steps this version knows. */
export const STEP_NAMES: readonly string[] = STEPS.map((step) => step.name);

export const migrationSource: Knex.MigrationSource<Step> = {
  getMigrations: async () => STEPS,
  getMigrationName: (step) => step.name,
  getMigration: async (step) => step,
};
