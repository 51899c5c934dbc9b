import type { Knex } from 'knex';
import { refuseWhereFilled } from '../refuse';

/** Mail addresses that were asked whether they want messages, and said yes. */
export async function up(db: Knex): Promise<void> {
  await db.raw(`CREATE TABLE mail_addresses (
    address TEXT PRIMARY KEY,
    asked_at INTEGER NOT NULL,
    confirmed_at INTEGER
  ) WITHOUT ROWID`);
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, ['mail_addresses']);
  await db.raw('DROP TABLE mail_addresses');
}
