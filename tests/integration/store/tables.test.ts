import { readFileSync } from 'node:fs';
import ts from 'typescript';
import { describe, expect, it } from 'vitest';
import { tempStore } from '../helpers';

const FILES = ['src/store/db/tables.ts', 'src/store/db/public-tables.ts'];
const SOURCES = FILES.map((file) =>
  ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true),
);

/** The members of each interface of the files: name, and the words of its type. */
function interfacesOf(nodes: readonly ts.Node[]): Map<string, Map<string, string>> {
  const found = new Map<string, Map<string, string>>();
  const visit = (one: ts.Node): void => {
    if (ts.isInterfaceDeclaration(one)) {
      const members = one.members.filter(ts.isPropertySignature);
      found.set(one.name.text, new Map(members.map((m) => [m.name.getText(), m.type!.getText()])));
    }
    ts.forEachChild(one, visit);
  };
  nodes.forEach(visit);
  return found;
}

interface Column {
  name: string;
  type: string;
  notnull: number;
  pk: number;
}

/** What a column may be, in the words of the file: a text may be narrower than any text. */
function typeOf({ type }: Column, told: string): boolean {
  const bare = told.replace(' | null', '');
  if (type === 'INTEGER' || type === 'REAL') return bare === 'number';
  if (type === 'boolean') return bare === 'Flag';
  if (type === 'BLOB') return bare === 'Buffer';
  return bare !== 'number' && bare !== 'Flag' && bare !== 'Buffer';
}

describe('the rows of tables', () => {
  it('are what the database holds, column by column', async () => {
    const { db, close } = await tempStore();
    const interfaces = interfacesOf(SOURCES);
    const tables = interfaces.get('Tables')!;
    const real = (await db('sqlite_master').where({ type: 'table' }).pluck('name')) as string[];
    const ours = real.filter((name) => !/^(sqlite_|knex_)/.test(name)).sort();
    expect([...tables.keys()].sort()).toEqual(ours);
    for (const table of ours) {
      const row = interfaces.get(tables.get(table)!)!;
      const columns = (await db.raw(`PRAGMA table_info(${table})`)) as Column[];
      expect([...row.keys()].sort(), table).toEqual(columns.map(({ name }) => name).sort());
      for (const column of columns) {
        const told = row.get(column.name)!;
        const where = `${table}.${column.name}: ${told}`;
        expect(told.endsWith(' | null'), where).toBe(column.notnull === 0 && column.pk === 0);
        expect(typeOf(column, told), where).toBe(true);
      }
    }
    await close();
  });
});
