import type { Knex } from 'knex';
import { refuseWhereFilled } from '../refuse';

/** Where pages were found before, so that links to there lead to where they are. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('former_slugs', (t) => {
    t.text('slug').primary();
    t.integer('page_id').notNullable().references('pages.id').onDelete('CASCADE').index();
  });
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, ['former_slugs']);
  await db.schema.dropTable('former_slugs');
}
