import type { Knex } from 'knex';
import { refuseWhereSet } from '../refuse';

interface OldItem {
  watchId: number;
  label: string;
}

interface NewItem {
  watchIds: number[];
  label: string;
}

async function changeSections<From, To>(db: Knex, change: (sections: From[]) => To[]): Promise<void> {
  for (const { id, sections } of await db('pages').select('id', 'sections')) {
    const changed = change(JSON.parse(sections) as From[]);
    await db('pages')
      .where({ id })
      .update({ sections: JSON.stringify(changed) });
  }
}

/** Lines of several watches, sections that fill themselves, and what a page looks like and is open to. */
export async function up(db: Knex): Promise<void> {
  await changeSections<{ title: string; items: OldItem[] }, object>(db, (sections) =>
    sections.map(({ title, items }) => ({
      title,
      items: items.map(({ watchId, label }) => ({
        watchIds: [watchId],
        label,
        description: '',
        shows: 'history',
        counting: 'any',
      })),
      follows: null,
    })),
  );
  await db.schema.alterTable('pages', (t) => {
    t.text('settings').notNullable().defaultTo('{}');
    t.string('host');
    t.string('secret');
    t.string('password_hash');
    t.unique(['host']);
    t.unique(['secret']);
  });
}

export async function down(db: Knex): Promise<void> {
  await refuseWhereSet(db, 'pages', ['settings'], '{}');
  await refuseWhereSet(db, 'pages', ['host', 'secret', 'password_hash']);
  await changeSections<{ title: string; items: NewItem[] }, object>(db, (sections) =>
    sections.map(({ title, items }) => ({
      title,
      items: items.flatMap(({ watchIds, label }) => watchIds.map((watchId) => ({ watchId, label }))),
    })),
  );
  await db.schema.alterTable('pages', (t) => {
    t.dropUnique(['host']);
    t.dropUnique(['secret']);
    t.dropColumns('settings', 'host', 'secret', 'password_hash');
  });
}
