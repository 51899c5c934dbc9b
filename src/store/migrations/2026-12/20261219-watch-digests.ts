import type { Knex } from 'knex';

/** Of each watch, what lists and counts ask of all of them; and trouble by watch, found without what is calm. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('watch_digests', (table) => {
    table.integer('watch_id').primary();
    table.text('state').notNullable();
    table.text('words').notNullable();
    table.text('host');
    table.text('address');
    table.integer('wants_from');
  });
  await db.raw(
    `CREATE INDEX stretches_in_trouble ON stretches (watch_id, began, ended, kind)
     WHERE kind IN ('slow', 'doubtful', 'overdue', 'down')`,
  );
}

export async function down(db: Knex): Promise<void> {
  await db.raw('DROP INDEX stretches_in_trouble');
  await db.schema.dropTable('watch_digests');
}
