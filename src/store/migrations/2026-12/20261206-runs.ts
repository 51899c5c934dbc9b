import type { Knex } from 'knex';

/** The last runs of one job are found without going through all it ever reported. */
export async function up(db: Knex): Promise<void> {
  await db.raw('CREATE INDEX reports_runs ON reports (watch_id, at) WHERE run_ms IS NOT NULL');
}

export async function down(db: Knex): Promise<void> {
  await db.raw('DROP INDEX reports_runs');
}
