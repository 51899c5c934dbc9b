import type { Knex } from 'knex';
import { refuseWhereFilled, refuseWhereSet } from '../refuse';

type Fields = Record<string, unknown>;

/** What shipped when this step was written: what a watch has alike is no setting of its own. */
const SHIPPED: Record<string, Fields> = {
  probe: {
    every: 60,
    when: null,
    timeout: 10,
    secondLooks: 2,
    secondLookGap: 10,
    slowAfter: null,
    slowLooks: 3,
    restsOn: [],
  },
  checkin: { leeway: 300, longestRun: null, restsOn: [] },
};

const SHIPPED_PACE: Record<string, number> = { name: 3600, certificate: 3600, reading: 300, journey: 300 };

const TRUST = { authority: '', skipVerify: false };

const SHIPPED_SETTINGS: Record<string, Fields> = {
  web: {
    accepted: '200-299',
    headers: '',
    family: 'any',
    proxy: '',
    soonDays: 21,
    urgentDays: 5,
    ...TRUST,
  },
  certificate: { soonDays: 21, urgentDays: 5, authority: '', leastProtocol: 'TLSv1.2', strongKey: true },
  name: { resolver: '' },
  ping: { packets: 3, mostLoss: 50, mostMs: null },
};

function without(fields: Fields, shipped: Fields): Fields {
  const kept = Object.entries(fields).filter(
    ([name, value]) =>
      !Object.hasOwn(shipped, name) || JSON.stringify(shipped[name]) !== JSON.stringify(value),
  );
  return Object.fromEntries(kept);
}

async function keepOwnOnly(db: Knex): Promise<void> {
  const rows: { id: number; kind: string; config: string }[] = await db('watches').select(
    'id',
    'kind',
    'config',
  );
  for (const { id, kind, config: text } of rows) {
    const whole = JSON.parse(text) as Fields;
    const shipped = {
      ...SHIPPED[String(whole.type)],
      ...(SHIPPED_PACE[kind] && { every: SHIPPED_PACE[kind] }),
    };
    const config = without(whole, shipped);
    if (whole.settings) {
      config.settings = without(whole.settings as Fields, SHIPPED_SETTINGS[kind] ?? TRUST);
    }
    await db('watches')
      .where({ id })
      .update({ config: JSON.stringify(config) });
  }
}

/** Settings of sections and of everything, tags, kept filters; a watch keeps only what is its own. */
export async function up(db: Knex): Promise<void> {
  await db.raw("ALTER TABLE sections ADD COLUMN settings TEXT NOT NULL DEFAULT '{}'");
  await db.schema.createTable('tags', (t) => {
    t.increments('id');
    t.string('name').notNullable().unique();
    t.string('colour').notNullable();
  });
  await db.schema.createTable('watch_tags', (t) => {
    t.integer('watch_id').notNullable().references('watches.id').onDelete('CASCADE');
    t.integer('tag_id').notNullable().references('tags.id').onDelete('CASCADE');
    t.primary(['watch_id', 'tag_id']);
    t.index('tag_id');
  });
  await db.schema.createTable('filters', (t) => {
    t.increments('id');
    t.string('name').notNullable().unique();
    t.text('query').notNullable();
  });
  await keepOwnOnly(db);
}

export async function down(db: Knex): Promise<void> {
  // A watch keeps only what is its own: without what is shared, what holds for it would be lost.
  await refuseWhereFilled(db, ['filters', 'watch_tags', 'tags', 'watches']);
  await refuseWhereSet(db, 'sections', ['settings'], '{}');
  for (const table of ['filters', 'watch_tags', 'tags']) await db.schema.dropTable(table);
  await db.raw('ALTER TABLE sections DROP COLUMN settings');
}
