import type { Knex } from 'knex';
import { refuseWhereFilled } from '../refuse';

export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('settings', (t) => {
    t.string('key').primary();
    t.text('value').notNullable();
  });
  await db.schema.createTable('accounts', (t) => {
    t.increments('id');
    t.string('email').notNullable().unique();
    t.string('password_hash').notNullable();
    t.integer('created_at').notNullable();
  });
  await db.schema.createTable('sessions', (t) => {
    t.string('token_hash').primary();
    t.integer('account_id').notNullable().references('accounts.id').onDelete('CASCADE');
    t.integer('created_at').notNullable();
    t.integer('expires_at').notNullable();
  });
  await db.schema.createTable('api_tokens', (t) => {
    t.increments('id');
    t.string('name').notNullable();
    t.string('token_hash').notNullable().unique();
    t.integer('created_at').notNullable();
    t.integer('last_used_at');
  });
  await db.schema.createTable('sign_in_failures', (t) => {
    t.string('subject').primary();
    t.integer('count').notNullable();
    t.integer('last_at').notNullable();
  });
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, ['accounts', 'api_tokens', 'settings']);
  for (const table of ['sign_in_failures', 'api_tokens', 'sessions', 'accounts', 'settings']) {
    await db.schema.dropTable(table);
  }
}
