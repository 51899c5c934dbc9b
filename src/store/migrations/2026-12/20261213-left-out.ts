import type { Knex } from 'knex';
import { refuseWhereSet } from '../refuse';

/** Why an outage is left out of figures, and since when; null where it counts. */
export async function up(db: Knex): Promise<void> {
  await db.raw('ALTER TABLE outages ADD COLUMN left_out TEXT');
  await db.raw('ALTER TABLE outages ADD COLUMN left_out_at INTEGER');
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereSet(db, 'outages', ['left_out']);
  await db.raw('ALTER TABLE outages DROP COLUMN left_out');
  await db.raw('ALTER TABLE outages DROP COLUMN left_out_at');
}
