import type { Knex } from 'knex';

/** When a letter last came back from somebody who follows. */
export async function up(db: Knex): Promise<void> {
  await db.raw('ALTER TABLE followers ADD COLUMN bounced_at INTEGER');
}

export async function down(db: Knex): Promise<void> {
  await db.raw('ALTER TABLE followers DROP COLUMN bounced_at');
}
