import type { Knex } from 'knex';

/** Who is told where a channel takes nothing, and for which channel a delivery stands in. */
export async function up(db: Knex): Promise<void> {
  await db.raw('ALTER TABLE channels ADD COLUMN fallback_id INTEGER');
  await db.raw('ALTER TABLE deliveries ADD COLUMN instead_of INTEGER');
}

export async function down(db: Knex): Promise<void> {
  await db.raw('ALTER TABLE deliveries DROP COLUMN instead_of');
  await db.raw('ALTER TABLE channels DROP COLUMN fallback_id');
}
