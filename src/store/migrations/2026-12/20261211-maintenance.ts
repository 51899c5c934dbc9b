import type { Knex } from 'knex';
import { refuseWhereFilled, refuseWhereSet } from '../refuse';

const COLUMNS = ['text', 'section_ids', 'tag_ids', 'announce_days', 'made_at', 'series_id', 'wall', 'apart'];
/** Until now all that was planned was announced at once. */
const AT_ONCE_DAYS = 366;

/** Maintenance for sections and tags, with words of its own, announced so many days ahead; and what comes again. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('window_series', (t) => {
    t.increments('id');
    t.string('title').notNullable();
    t.text('text').notNullable().defaultTo('');
    t.text('watch_ids').notNullable();
    t.text('section_ids').notNullable();
    t.text('tag_ids').notNullable();
    t.integer('announce_days').notNullable();
    t.text('rule').notNullable();
    t.text('zone').notNullable();
    t.text('first').notNullable();
    t.integer('lasts_minutes').notNullable();
    t.text('called_off').notNullable().defaultTo('[]');
    t.integer('made_until').notNullable();
    t.integer('made_at').notNullable();
  });
  await db.schema.alterTable('windows', (t) => {
    t.text('text').notNullable().defaultTo('');
    t.text('section_ids').notNullable().defaultTo('[]');
    t.text('tag_ids').notNullable().defaultTo('[]');
    t.integer('announce_days').notNullable().defaultTo(7);
    t.integer('made_at').notNullable().defaultTo(0);
    t.integer('series_id');
    t.text('wall');
    t.integer('apart').notNullable().defaultTo(0);
    t.index(['series_id', 'wall']);
    t.index(['ends']);
  });
  await db('windows').update({ announce_days: AT_ONCE_DAYS, made_at: Date.now() });
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, ['window_series']);
  await refuseWhereSet(db, 'windows', ['text'], '');
  await refuseWhereSet(db, 'windows', ['section_ids', 'tag_ids'], '[]');
  await db.schema.alterTable('windows', (t) => {
    t.dropIndex(['series_id', 'wall']);
    t.dropIndex(['ends']);
    t.dropColumns(...COLUMNS);
  });
  await db.schema.dropTable('window_series');
}
