import type { Knex } from 'knex';
import { refuseWhereFilled } from '../refuse';

export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('pages', (t) => {
    t.increments('id');
    t.string('slug').notNullable().unique();
    t.string('title').notNullable();
    t.text('intro').notNullable().defaultTo('');
    t.text('sections').notNullable();
    t.integer('created_at').notNullable();
  });
  await db.schema.createTable('incidents', (t) => {
    t.increments('id');
    t.integer('page_id').notNullable().references('pages.id').onDelete('CASCADE');
    t.string('title').notNullable();
    t.integer('began').notNullable();
    t.integer('ended');
    t.index(['page_id', 'began']);
  });
  await db.schema.createTable('incident_updates', (t) => {
    t.increments('id');
    t.integer('incident_id').notNullable().references('incidents.id').onDelete('CASCADE');
    t.integer('at').notNullable();
    t.string('stage').notNullable();
    t.text('body').notNullable();
    t.index(['incident_id', 'at']);
  });
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, ['incidents', 'pages']);
  for (const table of ['incident_updates', 'incidents', 'pages']) await db.schema.dropTable(table);
}
