import type { Knex } from 'knex';

const INDEXES: Readonly<Record<string, string>> = {
  // Few are open at a time; of those that are over, the last ones are asked for.
  outages_open: 'outages (watch_id) WHERE ended IS NULL',
  outages_ended: 'outages (ended) WHERE ended IS NOT NULL',
};

/** What is asked of outages is found without going through all of them. */
export async function up(db: Knex): Promise<void> {
  for (const [name, on] of Object.entries(INDEXES)) await db.raw(`CREATE INDEX ${name} ON ${on}`);
}

export async function down(db: Knex): Promise<void> {
  for (const name of Object.keys(INDEXES)) await db.raw(`DROP INDEX ${name}`);
}
