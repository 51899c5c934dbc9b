import type { Knex } from 'knex';
import { refuseWhereFilled } from '../refuse';

/** Messages in other languages and in words of one's own, and what was really handed over. */
export async function up(db: Knex): Promise<void> {
  await db.raw("ALTER TABLE channels ADD COLUMN language TEXT NOT NULL DEFAULT 'en'");
  await db.raw('ALTER TABLE deliveries ADD COLUMN words TEXT');
  await db.raw(`CREATE TABLE message_texts (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    channel_id INTEGER REFERENCES channels (id) ON DELETE CASCADE,
    happening TEXT NOT NULL,
    title TEXT NOT NULL,
    body TEXT NOT NULL,
    trouble TEXT,
    created_at INTEGER NOT NULL
  )`);
  await db.raw('CREATE UNIQUE INDEX message_texts_of ON message_texts (coalesce(channel_id, 0), happening)');
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, ['message_texts']);
  await db.raw('DROP TABLE message_texts');
  await db.raw('ALTER TABLE deliveries DROP COLUMN words');
  await db.raw('ALTER TABLE channels DROP COLUMN language');
}
