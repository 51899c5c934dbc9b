import type { Knex } from 'knex';
import { refuseWhereFilled } from '../refuse';

export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('sections', (t) => {
    t.increments('id');
    t.string('name').notNullable().unique();
    t.integer('position').notNullable().defaultTo(0);
  });
  await db.schema.createTable('watches', (t) => {
    t.increments('id');
    t.string('kind').notNullable();
    t.string('name').notNullable();
    t.integer('section_id').references('sections.id').onDelete('SET NULL');
    t.text('config').notNullable();
    t.boolean('paused').notNullable().defaultTo(false);
    t.string('checkin_key').unique();
    t.integer('position').notNullable().defaultTo(0);
    t.integer('created_at').notNullable();
    t.integer('deleted_at');
  });
  await db.schema.createTable('watch_status', (t) => {
    t.integer('watch_id').primary().references('watches.id').onDelete('CASCADE');
    t.string('state').notNullable();
    t.integer('since').notNullable();
    t.text('status').notNullable();
    t.text('last_finding');
  });
  await db.schema.createTable('windows', (t) => {
    t.increments('id');
    t.string('title').notNullable();
    t.text('watch_ids').notNullable();
    t.integer('begins').notNullable();
    t.integer('ends').notNullable();
  });
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, ['windows', 'watches', 'sections']);
  for (const table of ['windows', 'watch_status', 'watches', 'sections']) await db.schema.dropTable(table);
}
