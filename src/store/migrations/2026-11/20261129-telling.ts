import type { Knex } from 'knex';
import { refuseWhereFilled } from '../refuse';

/** Everything that was kept goes on by one route: all that happens, to every channel, at once. */
const EVERYTHING = [
  'down',
  'missed',
  'failed',
  'overlong',
  'too-often',
  'certificate',
  'certificate-urgent',
  'reading',
  'recovered',
  'line',
  'first-contact',
  'own',
];

export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('routes', (t) => {
    t.increments('id');
    t.string('name').notNullable();
    t.boolean('enabled').notNullable().defaultTo(true);
    t.integer('position').notNullable();
    t.text('config').notNullable();
    t.integer('created_at').notNullable();
  });
  await db.schema.createTable('happenings', (t) => {
    t.increments('id');
    t.integer('at').notNullable();
    t.string('thread').notNullable();
    t.text('happening').notNullable();
    t.integer('told_at');
  });
  await db.raw('CREATE INDEX happenings_untold ON happenings (id) WHERE told_at IS NULL');
  await db.schema.createTable('telling', (t) => {
    t.string('key').primary();
    t.text('state').notNullable();
  });
  await db.schema.createTable('telling_notes', (t) => {
    t.increments('id');
    t.integer('at').notNullable();
    t.string('thread').notNullable();
    t.integer('channel_id');
    t.integer('route_id');
    t.string('rule').notNullable();
    t.index(['thread', 'at']);
  });
  await db.schema.createTable('message_outages', (t) => {
    t.integer('message_id').notNullable().references('messages.id').onDelete('CASCADE');
    t.integer('outage_id').notNullable();
    t.primary(['message_id', 'outage_id']);
    t.index(['outage_id']);
  });
  await db.raw(
    `INSERT INTO message_outages (message_id, outage_id)
     SELECT id, outage_id FROM messages WHERE outage_id IS NOT NULL`,
  );
  // A table that others refer to is changed in place: written anew, it would take them with it.
  await db.raw('DROP INDEX messages_outage_id_index');
  await db.raw('ALTER TABLE messages DROP COLUMN outage_id');
  await db.raw('ALTER TABLE messages ADD COLUMN thread TEXT');
  await db.raw('CREATE INDEX messages_thread ON messages (thread)');
  await db.raw('ALTER TABLE deliveries ADD COLUMN route_id INTEGER');
  await db.raw('ALTER TABLE deliveries ADD COLUMN rule TEXT');
  const channels = await db('channels').orderBy('id').pluck('id');
  const nothing = { sections: [], tags: [], kinds: [], ids: [] };
  const [routeId] = await db('routes').insert({
    name: 'Everyone, at once',
    enabled: true,
    position: 0,
    created_at: Date.now(),
    config: JSON.stringify({
      watches: { all: true, ...nothing, except: nothing },
      topics: EVERYTHING,
      steps: [{ after: 0, channels }],
      again: null,
      againMost: null,
      hours: null,
    }),
  });
  await takeOver(db, channels, routeId!);
}

interface OpenOutage {
  id: number;
  watch_id: number;
  began: number;
  noticed: number;
  cause: string;
  detail: string;
  name: string;
  kind: string;
}

/** What is open and was told goes on as a conversation, so that its end is told too. */
async function takeOver(db: Knex, channels: readonly number[], routeId: number): Promise<void> {
  const heard = Object.fromEntries(channels.map((id) => [id, { how: 'said', routeId }]));
  const keep = async (key: string, watch: object | null, open: object) => {
    const listening = Object.fromEntries(channels.map((id) => [id, routeId]));
    const rest = { legs: [], taken: null, turns: [], unsteady: false, joined: [], joinedAt: null };
    await db('telling').insert({
      key: `thread ${key}`,
      state: JSON.stringify({ key, watch, open, heard, listening, ...rest }),
    });
  };
  const outages = await db('outages')
    .join('watches', 'watches.id', 'outages.watch_id')
    .whereNull('outages.ended')
    .whereNull('watches.deleted_at')
    .whereIn('outages.id', db('message_outages').select('outage_id'))
    .select<OpenOutage[]>('outages.*', 'watches.name', 'watches.kind');
  for (const { id, watch_id: watchId, began, noticed, cause, detail, name, kind } of outages) {
    const watch = { id: watchId, name, kind, section: null, tags: [], urgency: 'soon' };
    const event = { kind: 'down', began, noticed, cause, detail: JSON.parse(detail) as object };
    await keep(`w${watchId}`, watch, { topic: 'down', event, at: noticed, outageId: id });
  }
  for (const { began } of await db('line_losses').whereNull('ended').whereNotNull('message_id')) {
    const event = { kind: 'line', began, ended: null };
    await keep('line', null, { topic: 'line', event, at: began, outageId: null });
  }
  for (const { code, subject, detail, began } of await db('own_troubles').whereNull('ended')) {
    const event = { kind: 'own', code, detail: JSON.parse(detail) as object, began, ended: null };
    await keep(`own ${code} ${subject}`, null, { topic: 'own', event, at: began, outageId: null });
  }
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, ['happenings', 'telling']);
  for (const column of ['route_id', 'rule']) await db.raw(`ALTER TABLE deliveries DROP COLUMN ${column}`);
  await db.raw('DROP INDEX messages_thread');
  await db.raw('ALTER TABLE messages DROP COLUMN thread');
  await db.raw('ALTER TABLE messages ADD COLUMN outage_id INTEGER');
  await db.raw('CREATE INDEX messages_outage_id_index ON messages (outage_id)');
  await db.raw(
    `UPDATE messages SET outage_id = (SELECT min(outage_id) FROM message_outages WHERE message_id = messages.id)`,
  );
  for (const table of ['message_outages', 'telling_notes', 'telling', 'happenings', 'routes']) {
    await db.schema.dropTable(table);
  }
}
