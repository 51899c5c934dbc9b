import { randomBytes } from 'node:crypto';
import { mkdir, readFile, rename, rm, rmdir, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { request } from 'undici';
import { readBounded } from '@/outside/read';

/** Where a copy is put. */
export interface CopyTarget {
  /** Writes a file below where the copy begins; whoever reads meanwhile reads the old one or the new. */
  put: (name: string, body: Buffer, type: string) => Promise<void>;
}

/** A folder of this machine, or one that is mounted. */
export class FolderTarget implements CopyTarget {
  constructor(private readonly folder: string) {}

  async put(name: string, body: Buffer): Promise<void> {
    const file = join(this.folder, name);
    const part = `${file}.${randomBytes(4).toString('hex')}.part`;
    await mkdir(dirname(file), { recursive: true });
    try {
      await writeFile(part, body, { mode: 0o644 });
      await rename(part, file);
    } catch (error) {
      await rm(part, { force: true }).catch(() => undefined);
      throw error;
    }
  }
}

/** What a copy in a folder is of, and what it consists of; kept beside it, so that it can be taken away again. */
export interface CopyNote {
  page: number;
  files: string[];
}

export const COPY_NOTE = 'copy.json';

export async function readCopyNote(folder: string): Promise<CopyNote | null> {
  try {
    const note = JSON.parse(await readFile(join(folder, COPY_NOTE), 'utf8')) as CopyNote;
    return Number.isInteger(note.page) && Array.isArray(note.files) ? note : null;
  } catch {
    return null;
  }
}

/** Takes a copy away: the files it consists of, and folders that are empty then. */
export async function removeCopy(folder: string, { files }: CopyNote): Promise<void> {
  const inside = files.filter((name) => !name.includes('..') && !name.startsWith('/'));
  for (const name of [...inside, COPY_NOTE]) await rm(join(folder, name), { force: true });
  const folders = new Set(inside.map(dirname).filter((name) => name !== '.'));
  for (const name of [...folders, '.']) await rmdir(join(folder, name)).catch(() => undefined);
}

const PUT_LIMIT_MS = 20_000;
const MOST_ANSWER_BYTES = 10_000;

export interface WebPlace {
  /** With a slash at its end. */
  address: string;
  user: string;
  password: string;
}

/** A web server that takes files by PUT (RFC 9110), or by WebDAV (RFC 4918) with its folders made first. */
export class WebTarget implements CopyTarget {
  private readonly folders = new Set<string>();

  constructor(private readonly place: WebPlace) {}

  async put(name: string, body: Buffer, type: string): Promise<void> {
    const folder = dirname(name);
    if (folder !== '.' && !this.folders.has(folder)) {
      // Whoever knows no folders answers that, and takes the file all the same.
      await this.ask('MKCOL', `${folder}/`, null, type);
      this.folders.add(folder);
    }
    const status = await this.ask('PUT', name, body, type);
    if (status < 200 || status > 299) throw new Error(`PUT ${name} was answered ${status}.`);
  }

  private async ask(
    method: 'PUT' | 'MKCOL',
    name: string,
    body: Buffer | null,
    type: string,
  ): Promise<number> {
    const { address, user, password } = this.place;
    const abort = new AbortController();
    const limit = setTimeout(() => abort.abort(new Error(`${method} took longer than 20 s.`)), PUT_LIMIT_MS);
    try {
      const answer = await request(address + name, {
        method: method as 'PUT',
        headers: {
          ...(body && { 'content-type': type }),
          ...(user && { authorization: `Basic ${Buffer.from(`${user}:${password}`).toString('base64')}` }),
        },
        body,
        signal: abort.signal,
      });
      await readBounded(answer.body, { mostBytes: MOST_ANSWER_BYTES, withinMs: PUT_LIMIT_MS }).catch(
        () => undefined,
      );
      return answer.statusCode;
    } finally {
      clearTimeout(limit);
    }
  }
}
