import type { Knex } from 'knex';
import { refuseWhereSet } from '../refuse';

const COLUMNS = ['copy_password', 'copy_problem', 'copied_at'];

/** Copies of pages elsewhere: the key of where they are put (sealed), when one was made last, and why none could be. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('pages', (t) => {
    t.text('copy_password');
    t.text('copy_problem');
    t.integer('copied_at');
  });
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereSet(db, 'pages', ['copy_password']);
  await db.schema.alterTable('pages', (t) => t.dropColumns(...COLUMNS));
}
