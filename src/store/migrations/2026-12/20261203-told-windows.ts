import type { Knex } from 'knex';

/** How far a window of maintenance was told: that it began, that it is over. What is past is not told any more. */
export async function up(db: Knex): Promise<void> {
  await db.raw('ALTER TABLE windows ADD COLUMN told TEXT');
  const now = Date.now();
  await db('windows').where('begins', '<=', now).update({ told: 'begins' });
  await db('windows').where('ends', '<=', now).update({ told: 'ends' });
}

export async function down(db: Knex): Promise<void> {
  await db.raw('ALTER TABLE windows DROP COLUMN told');
}
