import { readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { describe, expect, it, vi } from 'vitest';
import { checkDataFolder, takeDataFolder } from '@/store/db/preflight';
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

  it('may not be there yet', () => {
    const folder = tempFolder();
    expect(() => checkDataFolder(join(folder, 'data'))).not.toThrow();
    expect(() => checkDataFolder(folder)).not.toThrow();
    expect(readdirSync(folder)).toEqual([]);
    rmSync(folder, { recursive: true });
  });

  it('is refused where it is a file, is somebody else’s, or cannot be written to', () => {
    const folder = tempFolder();
    const file = join(folder, 'data');
    writeFileSync(file, '');
    expect(() => checkDataFolder(file)).toThrow(
      `Expected a folder at ${file}, found a file. Name another place with LANTERN_DATA.`,
    );
    rmSync(file);
    const remedy = 'Give it to the account Calm Lantern runs as, or name another with LANTERN_DATA.';
    const owner = statSync(folder).uid;
    vi.spyOn(process, 'getuid').mockReturnValue(owner + 1);
    expect(() => checkDataFolder(folder)).toThrow(
      `Expected ${folder} to be this account’s own folder; it belongs to account ${owner}. ${remedy}`,
    );
    vi.mocked(process.getuid!).mockReturnValue(owner);
    expect(() => checkDataFolder(folder)).not.toThrow();
    vi.restoreAllMocks();
    rmSync(folder, { recursive: true });
  });

  it('is taken by one front door at a time, and free once that lets it go', () => {
    const folder = tempFolder();
    const first = takeDataFolder(folder);
    expect(() => takeDataFolder(folder)).toThrow(
      `Another Calm Lantern already runs on ${folder}. Stop it, or name another folder with LANTERN_DATA.`,
    );
    first.release();
    takeDataFolder(folder).release();
    rmSync(folder, { recursive: true });
  });
});
