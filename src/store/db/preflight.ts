import {
  accessSync,
  closeSync,
  constants,
  existsSync,
  openSync,
  readSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { join, resolve } from 'node:path';
import Database from 'better-sqlite3';
import { STEP_NAMES } from '@/store/migrations';

const MAGIC = 'SQLite format 3\0';
const OTHER_WAIT_MS = 3_000;
/** Whole databases up to this size are gone through before anything is done with them. */
const CHECKED_BYTES = 50_000_000;

/** Why a data folder cannot be used, in one sentence with its path and what helps. */
export class FolderError extends Error {
  override name = 'FolderError';
}

function beginningOf(file: string): string {
  const handle = openSync(file, 'r');
  try {
    const bytes = Buffer.alloc(MAGIC.length);
    readSync(handle, bytes, 0, bytes.length, 0);
    return bytes.toString('latin1');
  } finally {
    closeSync(handle);
  }
}

function checkFolder(folder: string): void {
  const remedy = 'Give it to the account Calm Lantern runs as, or name another with LANTERN_DATA.';
  if (!existsSync(folder)) return;
  if (!statSync(folder).isDirectory()) {
    throw new FolderError(
      `Expected a folder at ${folder}, found a file. Name another place with LANTERN_DATA.`,
    );
  }
  const owner = statSync(folder).uid;
  const own = process.getuid?.();
  if (own !== undefined && own !== 0 && owner !== own) {
    throw new FolderError(
      `Expected ${folder} to be this account’s own folder; it belongs to account ${owner}. ${remedy}`,
    );
  }
  try {
    accessSync(folder, constants.R_OK | constants.W_OK | constants.X_OK);
    const trial = join(folder, `.trial-${process.pid}`);
    writeFileSync(trial, '', { mode: 0o600 });
    rmSync(trial);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'ENOSPC') return;
    const why = code === 'EROFS' ? 'it can only be read' : `nothing may be written into it (${code})`;
    throw new FolderError(`Expected ${folder} to be a folder that can be written to; ${why}. ${remedy}`);
  }
}

function checkDatabase(file: string): void {
  if (!existsSync(file)) return;
  const backup = 'Put a backup in its place, or move it away to begin anew. Nothing was changed.';
  const { size } = statSync(file);
  if (size === 0) throw new FolderError(`Expected a database at ${file}, found an empty file. ${backup}`);
  if (beginningOf(file) !== MAGIC) {
    throw new FolderError(`Expected a database at ${file}, found something else. ${backup}`);
  }
  let done: string[];
  try {
    const db = new Database(file, { readonly: true, fileMustExist: true, timeout: OTHER_WAIT_MS });
    try {
      const tables = db.prepare("SELECT name FROM sqlite_master WHERE type = 'table'").all() as {
        name: string;
      }[];
      if (!tables.some(({ name }) => name === 'knex_migrations')) {
        if (tables.length === 0) return;
        throw new FolderError(
          `Expected a database of Calm Lantern at ${file}, found another program’s. ${backup}`,
        );
      }
      done = (db.prepare('SELECT name FROM knex_migrations ORDER BY id').all() as { name: string }[]).map(
        (r) => r.name,
      );
      if (size <= CHECKED_BYTES) {
        const said = db.pragma('quick_check(1)', { simple: true });
        if (said !== 'ok')
          throw new FolderError(
            `The database ${file} is damaged (${String(said).replace(/\s+/g, ' ')}). ${backup}`,
          );
      }
    } finally {
      db.close();
    }
  } catch (error) {
    if (error instanceof FolderError) throw error;
    const { code = '', message } = error as Error & { code?: string };
    if (code.startsWith('SQLITE_CORRUPT') || code.startsWith('SQLITE_NOTADB')) {
      throw new FolderError(`The database ${file} is damaged (${message}). ${backup}`);
    }
    throw new FolderError(
      `The database ${file} cannot be opened: ${message}. Look who else has it open, and whose file it is.`,
    );
  }
  const newer = done.find((name) => !STEP_NAMES.includes(name));
  if (newer !== undefined) {
    throw new FolderError(
      `The database ${file} was made by a newer version of Calm Lantern (it knows of ${newer}). Start that version, or put the copy back that was made before the upgrade. Nothing was changed.`,
    );
  }
}

/** Looks whether a data folder can be used, without touching anything in it; throws a `FolderError` that says why not. */
export function checkDataFolder(folder: string): void {
  const path = resolve(folder);
  checkFolder(path);
  checkDatabase(join(path, 'lantern.db'));
}

/**
 * Takes a data folder for this process as long as it lives: two front doors on one would each hear half. The lock is one
 * of the operating system's, so it is gone with the process however that ends.
 */
export function takeDataFolder(folder: string): { release: () => void } {
  const file = join(resolve(folder), 'door.lock');
  const lock = new Database(file, { timeout: OTHER_WAIT_MS });
  try {
    lock.pragma('journal_mode = DELETE');
    lock.pragma('locking_mode = EXCLUSIVE');
    lock.exec('BEGIN EXCLUSIVE');
  } catch (error) {
    lock.close();
    if (!(error as { code?: string }).code?.startsWith('SQLITE_BUSY')) throw error;
    throw new FolderError(
      `Another Calm Lantern already runs on ${resolve(folder)}. Stop it, or name another folder with LANTERN_DATA.`,
    );
  }
  return { release: () => lock.close() };
}
