import type { Knex } from 'knex';

/** When a letter last came back from somebody who follows; and how far one has been given out. */
export async function up(db: Knex): Promise<void> {
  await db.raw('ALTER TABLE followers ADD COLUMN bounced_at INTEGER');
  await db.raw('ALTER TABLE letters ADD COLUMN spread_to INTEGER');
  await db.raw('CREATE INDEX letters_begun ON letters(id) WHERE spread_to IS NOT NULL');
}

export async function down(db: Knex): Promise<void> {
  await db.raw('DROP INDEX letters_begun');
  await db.raw('ALTER TABLE letters DROP COLUMN spread_to');
  await db.raw('ALTER TABLE followers DROP COLUMN bounced_at');
}
