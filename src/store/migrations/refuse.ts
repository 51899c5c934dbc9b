import type { Knex } from 'knex';

/** Going back a step would lose something; that is for a person to do, by putting back the copy made before it. */
function refuse(what: string): never {
  throw new Error(
    `Going back would lose ${what}. Put back the copy of the database that was made before the upgrade instead. Nothing was changed.`,
  );
}

/** Refuses a step back that would drop tables with something in them. */
export async function refuseWhereFilled(db: Knex, tables: readonly string[]): Promise<void> {
  for (const table of tables) {
    if (await db(table).first()) refuse(`what is kept in ${table}`);
  }
}

/** Refuses a step back that would drop a column somewhere set. */
export async function refuseWhereSet(
  db: Knex,
  table: string,
  columns: readonly string[],
  unset: string | number | null = null,
): Promise<void> {
  for (const column of columns) {
    const query = db(table).whereNotNull(column);
    if (unset !== null) query.whereNot(column, unset);
    if (await query.first()) refuse(`${column} of ${table}`);
  }
}
