import type { Knex } from 'knex';
import { refuseWhereFilled } from '../refuse';

/** Troubles of Calm Lantern itself, and deliveries by channel in their order. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('own_troubles', (t) => {
    t.increments('id');
    t.string('code').notNullable();
    t.string('subject').notNullable().defaultTo('');
    t.text('detail').notNullable();
    t.integer('began').notNullable();
    t.integer('ended');
    t.index(['ended', 'began']);
    t.index(['began']);
  });
  await db.raw("CREATE INDEX deliveries_waiting ON deliveries (channel_id, id) WHERE state = 'waiting'");
  await db.raw('CREATE INDEX messages_created ON messages (created_at)');
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, ['own_troubles']);
  await db.raw('DROP INDEX messages_created');
  await db.raw('DROP INDEX deliveries_waiting');
  await db.schema.dropTable('own_troubles');
}
