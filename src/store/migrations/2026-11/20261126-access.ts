import type { Knex } from 'knex';

/**
 * Sessions have a number by which they can be ended, and say where they are used; a token that was revoked is
 * remembered as that; failed sign-ins are counted by account and client together, so that one client's tries are told
 * from those of many.
 */
export async function up(db: Knex): Promise<void> {
  await db.raw(`CREATE TABLE new_sessions (
    id INTEGER PRIMARY KEY AUTOINCREMENT, token_hash TEXT NOT NULL UNIQUE,
    account_id INTEGER NOT NULL REFERENCES accounts (id) ON DELETE CASCADE,
    created_at INTEGER NOT NULL, expires_at INTEGER NOT NULL, used_at INTEGER NOT NULL,
    client TEXT NOT NULL DEFAULT '', agent TEXT NOT NULL DEFAULT '')`);
  await db.raw(`INSERT INTO new_sessions (token_hash, account_id, created_at, expires_at, used_at)
    SELECT token_hash, account_id, created_at, expires_at, created_at FROM sessions`);
  await db.schema.dropTable('sessions');
  await db.raw('ALTER TABLE new_sessions RENAME TO sessions');
  await db.raw('ALTER TABLE api_tokens ADD COLUMN revoked_at INTEGER');
  await db.schema.dropTable('sign_in_failures');
  await db.raw(`CREATE TABLE sign_in_failures (
    email TEXT NOT NULL, client TEXT NOT NULL, count INTEGER NOT NULL, last_at INTEGER NOT NULL,
    PRIMARY KEY (email, client)) WITHOUT ROWID`);
  await db.raw('CREATE INDEX sign_in_failures_client ON sign_in_failures (client)');
  await db.raw(`CREATE TABLE known_clients (
    account_id INTEGER NOT NULL REFERENCES accounts (id) ON DELETE CASCADE,
    client TEXT NOT NULL, last_at INTEGER NOT NULL, PRIMARY KEY (account_id, client)) WITHOUT ROWID`);
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('known_clients');
  await db.schema.dropTable('sign_in_failures');
  await db.schema.createTable('sign_in_failures', (t) => {
    t.string('subject').primary();
    t.integer('count').notNullable();
    t.integer('last_at').notNullable();
  });
  // A token that was revoked must not come back to life.
  await db('api_tokens').whereNotNull('revoked_at').delete();
  await db.raw('ALTER TABLE api_tokens DROP COLUMN revoked_at');
  await db.raw(`CREATE TABLE old_sessions (
    token_hash TEXT PRIMARY KEY, account_id INTEGER NOT NULL REFERENCES accounts (id) ON DELETE CASCADE,
    created_at INTEGER NOT NULL, expires_at INTEGER NOT NULL)`);
  await db.raw(
    `INSERT INTO old_sessions SELECT token_hash, account_id, created_at, expires_at FROM sessions`,
  );
  await db.schema.dropTable('sessions');
  await db.raw('ALTER TABLE old_sessions RENAME TO sessions');
}
