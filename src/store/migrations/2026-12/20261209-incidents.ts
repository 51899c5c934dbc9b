import type { Knex } from 'knex';
import { refuseWhereFilled, refuseWhereSet } from '../refuse';

const KEPT = { incidents: 'id, title, began, ended', incident_updates: 'id, incident_id, at, stage, body' };

async function makeUpdates(db: Knex): Promise<void> {
  await db.schema.createTable('incident_updates', (t) => {
    t.increments('id');
    t.integer('incident_id').notNullable().references('incidents.id').onDelete('CASCADE');
    t.integer('at').notNullable();
    t.string('stage').notNullable();
    t.text('body').notNullable();
    t.index(['incident_id', 'at']);
  });
}

/** Sets the rows of both tables aside and drops them: one of them leads to the other. */
async function setAside(db: Knex, incidents: string): Promise<void> {
  await db.raw(`CREATE TEMP TABLE kept_incidents AS SELECT ${incidents} FROM incidents`);
  await db.raw(`CREATE TEMP TABLE kept_updates AS SELECT ${KEPT.incident_updates} FROM incident_updates`);
  await db.schema.dropTable('incident_updates');
  await db.schema.dropTable('incidents');
}

async function dropKept(db: Knex): Promise<void> {
  await db.raw('DROP TABLE kept_updates');
  await db.raw('DROP TABLE kept_incidents');
}

/**
 * An incident stands on any number of pages, says what it does to which watches, may come from an outage, and keeps what
 * its updates said before they were corrected. A notice is one without trouble behind it.
 */
export async function up(db: Knex): Promise<void> {
  await setAside(db, `${KEPT.incidents}, page_id`);
  await db.schema.createTable('incidents', (t) => {
    t.increments('id');
    t.string('kind').notNullable().defaultTo('incident');
    t.string('title').notNullable();
    t.integer('began').notNullable();
    t.integer('ended');
    t.text('account').notNullable().defaultTo('');
    t.integer('account_at');
    t.integer('outage_id').references('outages.id').onDelete('SET NULL');
    t.index(['began', 'id']);
    t.index(['outage_id']);
  });
  await db.raw(
    `INSERT INTO incidents (${KEPT.incidents}) SELECT ${KEPT.incidents} FROM kept_incidents ORDER BY id`,
  );
  await makeUpdates(db);
  await db.schema.alterTable('incident_updates', (t) => void t.integer('corrected_at'));
  await db.raw(
    `INSERT INTO incident_updates (${KEPT.incident_updates}) SELECT ${KEPT.incident_updates} FROM kept_updates ORDER BY id`,
  );
  await db.raw(`CREATE TABLE incident_pages (
    incident_id INTEGER NOT NULL REFERENCES incidents (id) ON DELETE CASCADE,
    page_id INTEGER NOT NULL REFERENCES pages (id) ON DELETE CASCADE,
    PRIMARY KEY (page_id, incident_id)
  ) WITHOUT ROWID`);
  await db.raw('CREATE INDEX incident_pages_incident ON incident_pages (incident_id)');
  await db.raw('INSERT INTO incident_pages (incident_id, page_id) SELECT id, page_id FROM kept_incidents');
  await db.raw(`CREATE TABLE incident_watches (
    incident_id INTEGER NOT NULL REFERENCES incidents (id) ON DELETE CASCADE,
    watch_id INTEGER NOT NULL REFERENCES watches (id) ON DELETE CASCADE,
    how TEXT NOT NULL,
    PRIMARY KEY (incident_id, watch_id)
  ) WITHOUT ROWID`);
  await db.raw('CREATE INDEX incident_watches_watch ON incident_watches (watch_id)');
  await db.raw(`CREATE TABLE incident_update_texts (
    update_id INTEGER NOT NULL REFERENCES incident_updates (id) ON DELETE CASCADE,
    at INTEGER NOT NULL,
    body TEXT NOT NULL,
    PRIMARY KEY (update_id, at)
  ) WITHOUT ROWID`);
  await dropKept(db);
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereFilled(db, ['incident_watches', 'incident_update_texts']);
  await refuseWhereSet(db, 'incidents', ['kind'], 'incident');
  await refuseWhereSet(db, 'incidents', ['account'], '');
  await refuseWhereSet(db, 'incidents', ['outage_id']);
  await db.raw(
    'CREATE TEMP TABLE kept_pages AS SELECT incident_id, min(page_id) AS page_id FROM incident_pages GROUP BY 1',
  );
  for (const table of ['incident_update_texts', 'incident_watches', 'incident_pages']) {
    await db.schema.dropTable(table);
  }
  await setAside(db, KEPT.incidents);
  await db.schema.createTable('incidents', (t) => {
    t.increments('id');
    t.integer('page_id').notNullable().references('pages.id').onDelete('CASCADE');
    t.string('title').notNullable();
    t.integer('began').notNullable();
    t.integer('ended');
    t.index(['page_id', 'began']);
  });
  await db.raw(
    `INSERT INTO incidents (${KEPT.incidents}, page_id)
     SELECT ${KEPT.incidents}, page_id FROM kept_incidents JOIN kept_pages ON incident_id = id`,
  );
  await makeUpdates(db);
  await db.raw(
    `INSERT INTO incident_updates (${KEPT.incident_updates}) SELECT ${KEPT.incident_updates} FROM kept_updates`,
  );
  await db.raw('DROP TABLE kept_pages');
  await dropKept(db);
}
