import type { Knex } from 'knex';
import { refuseWhereSet } from '../refuse';

/** What a job says besides begun and done, keys that are changed, and addresses that can be read. */
export async function up(db: Knex): Promise<void> {
  await db.raw('ALTER TABLE reports ADD COLUMN progress REAL');
  await db.raw('ALTER TABLE reports ADD COLUMN agent TEXT');
  await db.raw('ALTER TABLE reports ADD COLUMN took INTEGER');
  await db.raw('CREATE INDEX reports_output ON reports (at) WHERE output IS NOT NULL');
  await db.raw('ALTER TABLE watches ADD COLUMN checkin_name TEXT');
  await db.raw('ALTER TABLE watches ADD COLUMN old_checkin_key TEXT');
  await db.raw('ALTER TABLE watches ADD COLUMN old_key_until INTEGER');
  await db.raw('ALTER TABLE watches ADD COLUMN old_key_used_at INTEGER');
  await db.raw('CREATE UNIQUE INDEX watches_old_key ON watches (old_checkin_key)');
  await db.raw('ALTER TABLE sections ADD COLUMN checkin_secret TEXT');
  await db.raw('ALTER TABLE sections ADD COLUMN most_new INTEGER NOT NULL DEFAULT 0');
  await db.raw('CREATE UNIQUE INDEX sections_checkin_secret ON sections (checkin_secret)');
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereSet(db, 'reports', ['progress', 'agent', 'took']);
  await refuseWhereSet(db, 'watches', ['checkin_name', 'old_checkin_key']);
  await refuseWhereSet(db, 'sections', ['checkin_secret']);
  await db.raw('DROP INDEX sections_checkin_secret');
  await db.raw('DROP INDEX watches_old_key');
  for (const column of ['most_new', 'checkin_secret']) {
    await db.raw(`ALTER TABLE sections DROP COLUMN ${column}`);
  }
  for (const column of ['old_key_used_at', 'old_key_until', 'old_checkin_key', 'checkin_name']) {
    await db.raw(`ALTER TABLE watches DROP COLUMN ${column}`);
  }
  await db.raw('DROP INDEX reports_output');
  for (const column of ['took', 'agent', 'progress'])
    await db.raw(`ALTER TABLE reports DROP COLUMN ${column}`);
}
