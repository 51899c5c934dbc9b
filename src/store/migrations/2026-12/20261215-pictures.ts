import type { Knex } from 'knex';
import { refuseWhereFilled } from '../refuse';

/** Logos and covers of public pages, as they are shown. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('pictures', (t) => {
    t.text('name').primary();
    t.text('use').notNullable();
    t.binary('bytes').notNullable();
    t.integer('made_at').notNullable();
  });
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, ['pictures']);
  await db.schema.dropTable('pictures');
}
