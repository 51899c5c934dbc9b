import type { Knex } from 'knex';
import { refuseWhereFilled } from '../refuse';

export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('channels', (t) => {
    t.increments('id');
    t.string('kind').notNullable();
    t.string('name').notNullable();
    t.text('settings').notNullable();
    t.boolean('enabled').notNullable().defaultTo(true);
    t.integer('created_at').notNullable();
  });
  await db.schema.createTable('messages', (t) => {
    t.increments('id');
    t.string('kind').notNullable();
    t.integer('watch_id');
    t.integer('outage_id');
    t.text('text').notNullable();
    t.integer('created_at').notNullable();
    t.index(['outage_id']);
  });
  await db.schema.createTable('deliveries', (t) => {
    t.increments('id');
    t.integer('message_id').notNullable().references('messages.id').onDelete('CASCADE');
    t.integer('channel_id').notNullable().references('channels.id').onDelete('CASCADE');
    t.string('state').notNullable();
    t.integer('attempts').notNullable().defaultTo(0);
    t.integer('next_at').notNullable();
    t.index(['state', 'next_at']);
    t.index(['message_id']);
  });
  await db.schema.createTable('attempts', (t) => {
    t.increments('id');
    t.integer('delivery_id').notNullable().references('deliveries.id').onDelete('CASCADE');
    t.integer('at').notNullable();
    t.boolean('ok').notNullable();
    t.text('said').notNullable();
    t.index(['delivery_id']);
  });
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, ['messages', 'channels']);
  for (const table of ['attempts', 'deliveries', 'messages', 'channels']) await db.schema.dropTable(table);
}
