import type { Knex } from 'knex';
import { refuseWhereFilled } from '../refuse';

/** Tables keyed by (watch, time) have no row id: a third smaller, and one watch's rows lie together. */
export async function up(db: Knex): Promise<void> {
  await db.raw(`CREATE TABLE findings (
    watch_id INTEGER NOT NULL, at INTEGER NOT NULL, verdict INTEGER NOT NULL, us INTEGER,
    cause TEXT, detail TEXT, PRIMARY KEY (watch_id, at)) WITHOUT ROWID`);
  await db.raw(`CREATE TABLE rollups (
    watch_id INTEGER NOT NULL, hour INTEGER NOT NULL, fine INTEGER NOT NULL, failed INTEGER NOT NULL,
    histogram BLOB NOT NULL, PRIMARY KEY (watch_id, hour)) WITHOUT ROWID`);
  await db.raw(`CREATE TABLE stretches (
    watch_id INTEGER NOT NULL, began INTEGER NOT NULL, kind TEXT NOT NULL, ended INTEGER,
    PRIMARY KEY (watch_id, began, kind)) WITHOUT ROWID`);
  await db.schema.createTable('outages', (t) => {
    t.increments('id');
    t.integer('watch_id').notNullable();
    t.integer('began').notNullable();
    t.integer('noticed').notNullable();
    t.integer('ended');
    t.string('cause').notNullable();
    t.text('causes').notNullable();
    t.text('detail').notNullable();
    t.text('evidence');
    t.index(['watch_id', 'began']);
    t.index(['began']);
  });
  await db.schema.createTable('reports', (t) => {
    t.increments('id');
    t.integer('watch_id').notNullable();
    t.integer('at').notNullable();
    t.string('kind').notNullable();
    t.integer('code');
    t.string('run');
    t.string('method').notNullable();
    t.string('address').notNullable();
    t.text('output');
    t.integer('run_ms');
    t.index(['watch_id', 'at']);
  });
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, ['reports', 'outages', 'rollups', 'findings']);
  for (const table of ['reports', 'outages', 'stretches', 'rollups', 'findings']) {
    await db.schema.dropTable(table);
  }
}
