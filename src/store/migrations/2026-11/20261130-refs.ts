import type { Knex } from 'knex';

/** What was sent is read by time, by watch and by channel, however much there is of it. */
const INDEXES = {
  messages_watch: 'messages (watch_id, created_at)',
  deliveries_channel: 'deliveries (channel_id)',
};

/** By what a channel knows a message it took, so that what follows can be tied to it. */
export async function up(db: Knex): Promise<void> {
  await db.raw('ALTER TABLE deliveries ADD COLUMN ref TEXT');
  for (const [name, on] of Object.entries(INDEXES)) await db.raw(`CREATE INDEX ${name} ON ${on}`);
}

export async function down(db: Knex): Promise<void> {
  for (const name of Object.keys(INDEXES)) await db.raw(`DROP INDEX ${name}`);
  await db.raw('ALTER TABLE deliveries DROP COLUMN ref');
}
