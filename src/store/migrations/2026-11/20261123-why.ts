import type { Knex } from 'knex';
import { refuseWhereFilled, refuseWhereSet } from '../refuse';

/** Readings beside times, days beside hours, the evidence of failing looks, what an outage follows from, and lost own lines. */
export async function up(db: Knex): Promise<void> {
  await db.raw('ALTER TABLE findings ADD COLUMN value REAL');
  for (const column of ['least', 'most', 'total'])
    await db.raw(`ALTER TABLE rollups ADD COLUMN ${column} REAL`);
  await db.raw('ALTER TABLE rollups ADD COLUMN read INTEGER');
  await db.raw(`CREATE TABLE rollups_by_day (
    watch_id INTEGER NOT NULL, hour INTEGER NOT NULL, fine INTEGER NOT NULL, failed INTEGER NOT NULL,
    histogram BLOB NOT NULL, least REAL, most REAL, total REAL, read INTEGER,
    PRIMARY KEY (watch_id, hour)) WITHOUT ROWID`);
  await db.raw('ALTER TABLE outages ADD COLUMN follows INTEGER');
  await db.raw(`CREATE TABLE evidence (
    watch_id INTEGER NOT NULL, at INTEGER NOT NULL, cause TEXT NOT NULL, detail TEXT NOT NULL,
    evidence TEXT NOT NULL, PRIMARY KEY (watch_id, at)) WITHOUT ROWID`);
  await db.schema.createTable('line_losses', (t) => {
    t.increments('id');
    t.integer('began').notNullable();
    t.integer('ended');
    t.integer('message_id');
  });
}

export async function down(db: Knex): Promise<void> {
  // Days can be made anew from hours; the rest cannot.
  await refuseWhereFilled(db, ['line_losses', 'evidence']);
  await refuseWhereSet(db, 'outages', ['follows']);
  await refuseWhereSet(db, 'findings', ['value']);
  await refuseWhereSet(db, 'rollups', ['read']);
  await db.schema.dropTable('line_losses');
  await db.schema.dropTable('rollups_by_day');
  await db.schema.dropTable('evidence');
  await db.raw('ALTER TABLE outages DROP COLUMN follows');
  for (const column of ['read', 'total', 'most', 'least'])
    await db.raw(`ALTER TABLE rollups DROP COLUMN ${column}`);
  await db.raw('ALTER TABLE findings DROP COLUMN value');
}
