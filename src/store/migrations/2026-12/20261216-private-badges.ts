import type { Knex } from 'knex';
import { refuseWhereFilled } from '../refuse';

/** Badges of what stands on no public page, each found by a secret of its own. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('private_badges', (t) => {
    t.increments('id');
    t.text('secret').notNullable().unique();
    t.integer('watch_id').references('watches.id').onDelete('CASCADE');
    t.integer('section_id').references('sections.id').onDelete('CASCADE');
    t.integer('tag_id').references('tags.id').onDelete('CASCADE');
    t.integer('made_at').notNullable();
  });
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, ['private_badges']);
  await db.schema.dropTable('private_badges');
}
