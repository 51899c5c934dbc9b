import type { Knex } from 'knex';
import { refuseWhereFilled, refuseWhereSet } from '../refuse';

async function renameSize(db: Knex, from: string, to: string): Promise<void> {
  await db.raw(
    `UPDATE settings SET value = json_remove(json_set(value, '$.${to}', json_extract(value, '$.${from}')), '$.${from}')
     WHERE key = 'mail_door' AND json_extract(value, '$.${from}') IS NOT NULL`,
  );
}

/** Who changed what; requests that were answered once and are not done again; a size that
 * names its unit; and what a message is about, put into words only when it is handed over. */
export async function up(db: Knex): Promise<void> {
  await db.raw(`CREATE TABLE deeds (
    id INTEGER PRIMARY KEY AUTOINCREMENT, at INTEGER NOT NULL, deed TEXT NOT NULL,
    by_kind TEXT NOT NULL, by_id INTEGER, by_name TEXT NOT NULL,
    subject_kind TEXT NOT NULL, subject_id INTEGER, subject_name TEXT NOT NULL)`);
  await db.raw('CREATE INDEX deeds_at ON deeds (at, id)');
  await db.raw(`CREATE TABLE answered_requests (
    who TEXT NOT NULL, key TEXT NOT NULL, request TEXT NOT NULL, answer TEXT NOT NULL, at INTEGER NOT NULL,
    PRIMARY KEY (who, key)) WITHOUT ROWID`);
  await db.raw('CREATE INDEX answered_requests_at ON answered_requests (at)');
  await renameSize(db, 'largest', 'largestKb');
  await db.raw('ALTER TABLE messages ADD COLUMN event TEXT');
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereSet(db, 'messages', ['event']);
  await refuseWhereFilled(db, ['deeds']);
  await db.raw('ALTER TABLE messages DROP COLUMN event');
  await renameSize(db, 'largestKb', 'largest');
  await db.schema.dropTable('answered_requests');
  await db.schema.dropTable('deeds');
}
