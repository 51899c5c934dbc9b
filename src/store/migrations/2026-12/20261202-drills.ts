import type { Knex } from 'knex';

/** Rehearsals, and which messages belong to one. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('drills', (table) => {
    table.increments('id');
    table.text('watches').notNullable();
    table.text('happening').notNullable();
    table.integer('began').notNullable();
    table.integer('until').notNullable();
    table.integer('ended');
    table.text('by_name').notNullable();
  });
  await db.raw('ALTER TABLE messages ADD COLUMN drill_id INTEGER');
  await db.raw('CREATE INDEX messages_drill ON messages (drill_id) WHERE drill_id IS NOT NULL');
}

export async function down(db: Knex): Promise<void> {
  await db.raw('DROP INDEX messages_drill');
  await db.raw('ALTER TABLE messages DROP COLUMN drill_id');
  await db.schema.dropTable('drills');
}
