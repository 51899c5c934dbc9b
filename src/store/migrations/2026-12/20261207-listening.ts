import type { Knex } from 'knex';

/** Rooms we stay in are listened to; what is written to a bot may be read by another program, and is left alone. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `UPDATE channels SET settings = json_set(settings, '$.listens', json('true'))
     WHERE kind IN ('irc', 'xmpp', 'matrix') AND json_type(settings, '$.listens') IS NULL`,
  );
  await db.raw(
    `UPDATE channels SET settings = json_set(settings, '$.listens', json('false'))
     WHERE kind = 'bot' AND json_type(settings, '$.listens') IS NULL`,
  );
  await db.raw(
    `UPDATE channels SET settings = json_set(settings, '$.authority', '')
     WHERE kind = 'xmpp' AND json_type(settings, '$.authority') IS NULL`,
  );
}

export async function down(db: Knex): Promise<void> {
  await db.raw(
    `UPDATE channels SET settings = json_remove(settings, '$.listens') WHERE kind IN ('irc', 'xmpp', 'matrix', 'bot')`,
  );
  await db.raw(`UPDATE channels SET settings = json_remove(settings, '$.authority') WHERE kind = 'xmpp'`);
}
