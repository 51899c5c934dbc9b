import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { describe, expect, it } from 'vitest';
import { checkDataFolder } from '@/store/db/preflight';
import { makeWatch, periodConfig, tempFolder, tempStore } from '../helpers';

/** A data folder in use, with its database at rest. */
async function usedFolder(): Promise<{ folder: string; file: string }> {
  const store = await tempStore();
  for (let i = 0; i < 20; i += 1) await makeWatch(store.db, periodConfig(60, 0), { name: `Kiosk ${i}` });
  await store.db.raw('PRAGMA wal_checkpoint(TRUNCATE)');
  const folder = tempFolder();
  const file = join(folder, 'lantern.db');
  writeFileSync(file, readFileSync(join(store.folder, 'lantern.db')));
  await store.close();
  return { folder, file };
}

/** The first page of a table's own. */
function rootOf(file: string, table: string): { page: number; size: number } {
  const db = new Database(file, { readonly: true });
  try {
    const { page } = db
      .prepare("SELECT rootpage AS page FROM sqlite_master WHERE type = 'table' AND name = ?")
      .get(table) as { page: number };
    return { page, size: db.pragma('page_size', { simple: true }) as number };
  } finally {
    db.close();
  }
}

describe('a data folder', () => {
  it('is taken as it is found, and left so', async () => {
    const { folder, file } = await usedFolder();
    const before = readFileSync(file);
    expect(() => checkDataFolder(folder)).not.toThrow();
    expect(readFileSync(file).equals(before)).toBe(true);
    rmSync(folder, { recursive: true });
  });

  it('is refused where its database is damaged far behind what every start reads', async () => {
    const { folder, file } = await usedFolder();
    const { page, size } = rootOf(file, 'watches');
    const damaged = readFileSync(file).fill('x', (page - 1) * size, page * size);
    writeFileSync(file, damaged);
    expect(() => checkDataFolder(folder)).toThrow(
      new RegExp(`^The database ${file} is damaged \\(.+\\)\\. Put a backup in its place`),
    );
    expect(readFileSync(file).equals(damaged)).toBe(true);
    rmSync(folder, { recursive: true });
  });

  it.each([
    ['', 'Expected a database at %, found an empty file.'],
    ['not a database at all, but long enough to look at', 'Expected a database at %, found something else.'],
    [`SQLite format 3\0${'x'.repeat(8000)}`, 'The database % is damaged (file is not a database).'],
  ])('is refused where its database is none (%#)', (content, words) => {
    const folder = tempFolder();
    const file = join(folder, 'lantern.db');
    writeFileSync(file, content, 'latin1');
    expect(() => checkDataFolder(folder)).toThrow(
      `${words.replace('%', file)} Put a backup in its place, or move it away to begin anew. Nothing was changed.`,
    );
    expect(readdirSync(folder)).toEqual(['lantern.db']);
    expect(readFileSync(file, 'latin1')).toBe(content);
    rmSync(folder, { recursive: true });
  });

  it('is refused where its database is another program’s', () => {
    const folder = tempFolder();
    const db = new Database(join(folder, 'lantern.db'));
    db.exec('CREATE TABLE boats (id)');
    db.close();
    expect(() => checkDataFolder(folder)).toThrow('found another program’s');
    rmSync(folder, { recursive: true });
  });
});
