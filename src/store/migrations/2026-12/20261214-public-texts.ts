import type { Knex } from 'knex';
import { refuseWhereFilled } from '../refuse';

const TABLES = ['self_tellings', 'public_texts'];

/** Texts for the public that are used again, and sections that tell the public by themselves. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('public_texts', (t) => {
    t.increments('id');
    t.text('name').notNullable().unique();
    t.text('title').notNullable();
    t.text('body').notNullable();
    t.text('over').notNullable();
  });
  await db.schema.createTable('self_tellings', (t) => {
    t.integer('section_id').primary().references('sections.id').onDelete('CASCADE');
    t.integer('text_id').notNullable().references('public_texts.id').onDelete('CASCADE');
    t.integer('after_minutes').notNullable();
    t.text('page_ids').notNullable();
  });
  await db.raw('ALTER TABLE incidents ADD COLUMN by_itself INTEGER');
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, TABLES);
  await db.raw('ALTER TABLE incidents DROP COLUMN by_itself');
  for (const table of TABLES) await db.schema.dropTable(table);
}
