import type { Knex } from 'knex';
import { refuseWhereFilled } from '../refuse';

const TABLES = ['letter_deliveries', 'letters', 'followers'];

/** Those outside who asked to be told, what they are told, and how each letter got to each of them. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('followers', (t) => {
    t.increments('id');
    t.integer('page_id').notNullable().references('pages.id').onDelete('CASCADE');
    t.text('kind').notNullable();
    t.text('address').notNullable();
    t.text('secret');
    t.text('choice').notNullable();
    t.text('language').notNullable();
    t.text('state').notNullable();
    t.text('mark').notNullable();
    t.text('consent').notNullable();
    t.integer('made_at').notNullable();
    t.integer('asked_at');
    t.integer('confirmed_at');
    t.integer('refusals').notNullable().defaultTo(0);
    t.text('aside_why');
    t.unique(['page_id', 'kind', 'address']);
    t.index(['page_id', 'made_at', 'id']);
  });
  await db.schema.createTable('letters', (t) => {
    t.increments('id');
    t.integer('page_id').notNullable().references('pages.id').onDelete('CASCADE');
    t.text('key').notNullable();
    t.text('facts').notNullable();
    t.text('about').notNullable();
    t.integer('urgency').notNullable();
    t.integer('made_at').notNullable();
    t.integer('due_at').notNullable();
    t.integer('spread_at');
    t.unique(['page_id', 'key']);
  });
  await db.raw('CREATE INDEX letters_unspread ON letters(due_at) WHERE spread_at IS NULL');
  await db.schema.createTable('letter_deliveries', (t) => {
    t.increments('id');
    t.integer('letter_id').notNullable().references('letters.id').onDelete('CASCADE');
    t.integer('follower_id').notNullable().references('followers.id').onDelete('CASCADE');
    t.text('state').notNullable();
    t.integer('attempts').notNullable().defaultTo(0);
    t.integer('next_at').notNullable();
    t.integer('sent_at');
    t.integer('sender');
    t.text('said').notNullable().defaultTo('');
    t.unique(['letter_id', 'follower_id']);
    t.index(['follower_id', 'id']);
  });
  await db.raw(
    "CREATE INDEX letter_deliveries_waiting ON letter_deliveries(next_at) WHERE state = 'waiting'",
  );
  await db.raw(
    'CREATE INDEX letter_deliveries_sent ON letter_deliveries(sender, sent_at) WHERE sent_at IS NOT NULL',
  );
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, TABLES);
  for (const table of TABLES) await db.schema.dropTable(table);
}
