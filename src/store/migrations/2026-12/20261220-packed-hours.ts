import type { Knex } from 'knex';
import { refuseWhereFilled } from '../refuse';

/**
 * The hours of a day in one row: a third of what they take one by one. Rows of up to a kilobyte want a table with row
 * ids. How large the file was each day, so that its growth can be told.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('packed_hours', (table) => {
    table.integer('watch_id').notNullable();
    table.integer('day').notNullable();
    table.binary('hours').notNullable();
    table.primary(['watch_id', 'day']);
  });
  await db.raw(`CREATE TABLE file_sizes (day INTEGER PRIMARY KEY, bytes INTEGER NOT NULL)`);
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, ['packed_hours']);
  await db.schema.dropTable('packed_hours');
  await db.schema.dropTable('file_sizes');
}
