import { createCipheriv, createDecipheriv, createHash, randomBytes } from 'node:crypto';
import { chmodSync, copyFileSync, existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Db } from './connection';
import { fetchSetting, saveSetting } from './settings';

const MARK = 'sealed:1:';
const KEY_FILE = 'secrets.key';
/** Keys that were there in between, so that nothing sealed with them is lost when the old one comes back. */
const MORE_KEYS = /^secrets(-[\w-]+)?\.key$/;
const KEY_BYTES = 32;
/** So often the folder is looked through again for a key that was put back. */
const LOOK_AGAIN_MS = 5_000;

/** Keeps secrets sealed in the database; the key lies beside it, in a file only its owner may read. */
export interface Vault {
  /** AES-256-GCM with a nonce of its own (NIST SP 800-38D). Sealing nothing gives nothing. */
  seal: (secret: string) => string;
  /** What was never sealed comes back as it is. Throws a `VaultError` where no key fits. */
  open: (sealed: string) => string;
}

/** A secret cannot be opened with any key there is. */
class VaultError extends Error {
  override name = 'VaultError';
}

export function isSealed(text: unknown): text is string {
  return typeof text === 'string' && text.startsWith(MARK);
}

/** The key in a file; one that was cut short is none. */
function readKey(file: string): Buffer[] {
  const key = Buffer.from(readFileSync(file, 'utf8').trim(), 'base64');
  return key.length === KEY_BYTES ? [key] : [];
}

/** The keys in a folder, the one to seal with first. */
function keysIn(folder: string): Buffer[] {
  const names = readdirSync(folder).filter((name) => MORE_KEYS.test(name));
  names.sort((a, b) => Number(b === KEY_FILE) - Number(a === KEY_FILE) || b.localeCompare(a));
  return names.flatMap((name) => readKey(join(folder, name)));
}

function newName(): string {
  return `secrets-${randomBytes(3).toString('hex')}.key`;
}

function makeKey(folder: string, name: string): void {
  const file = join(folder, name);
  try {
    writeFileSync(file, randomBytes(KEY_BYTES).toString('base64'), { mode: 0o600, flag: 'wx' });
  } catch (error) {
    // The other process was faster.
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  }
}

function openWith(keys: readonly Buffer[], sealed: string): string | null {
  const bytes = Buffer.from(sealed.slice(MARK.length), 'base64url');
  for (const key of keys) {
    try {
      const decipher = createDecipheriv('aes-256-gcm', key, bytes.subarray(0, 12));
      decipher.setAuthTag(bytes.subarray(12, 28));
      return Buffer.concat([decipher.update(bytes.subarray(28)), decipher.final()]).toString('utf8');
    } catch {
      // Another key may fit.
    }
  }
  return null;
}

function sealWith(key: Buffer, secret: string): string {
  const nonce = randomBytes(12);
  const cipher = createCipheriv('aes-256-gcm', key, nonce);
  const text = Buffer.concat([cipher.update(secret, 'utf8'), cipher.final()]);
  return MARK + Buffer.concat([nonce, cipher.getAuthTag(), text]).toString('base64url');
}

/** The vault of a data folder; a key is made where there is none at all. */
export function openVault(folder: string): Vault {
  if (keysIn(folder).length === 0) makeKey(folder, existsSync(join(folder, KEY_FILE)) ? newName() : KEY_FILE);
  for (const name of readdirSync(folder)) if (MORE_KEYS.test(name)) chmodSync(join(folder, name), 0o600);
  let keys = keysIn(folder);
  let readAt = performance.now();
  return {
    seal: (secret) => (secret === '' ? '' : sealWith(keys[0]!, secret)),
    open: (sealed) => {
      if (!isSealed(sealed)) return sealed;
      let text = openWith(keys, sealed);
      if (text === null && performance.now() - readAt > LOOK_AGAIN_MS) {
        // Somebody may have put the old key back.
        keys = keysIn(folder);
        readAt = performance.now();
        text = openWith(keys, sealed);
      }
      if (text !== null) return text;
      throw new VaultError(
        `a secret cannot be opened with the key in ${KEY_FILE}; enter it again, or put the old key file back`,
      );
    },
  };
}

/** Something that was sealed with the key everything else was sealed with. */
const SAMPLE = 'vault_sample';

async function anythingSealed(db: Db): Promise<string | null> {
  const found = await db
    .from(
      db
        .select('settings as text')
        .from('channels')
        .unionAll(db.select('config as text').from('watches'))
        .as('all'),
    )
    .where('text', 'like', `%${MARK}%`)
    .first<{ text: string } | undefined>('text');
  return found ? (/sealed:1:[\w-]+/.exec(found.text)?.[0] ?? null) : null;
}

/**
 * Sees to it that a key there is none of, or a wrong one, is not taken for the right one: a key to go on with gets a file
 * of its own, and the place of the old one stays free for it. Has to be asked before the vault is opened.
 */
export async function prepareKeys(db: Db, folder: string): Promise<void> {
  const sample = (await fetchSetting(db, SAMPLE)) ?? (await anythingSealed(db));
  if (sample === null) return;
  const keys = keysIn(folder);
  if (openWith(keys, sample) !== null) return;
  if (keys.length === 0) {
    makeKey(folder, newName());
    return;
  }
  const file = join(folder, KEY_FILE);
  if (!existsSync(file)) return;
  // The old key may be copied over this one; what was sealed with it meanwhile stays open.
  const name = createHash('sha256').update(readFileSync(file)).digest('hex').slice(0, 6);
  const copy = join(folder, `secrets-${name}.key`);
  if (!existsSync(copy)) copyFileSync(file, copy);
}

/** Whether the keys there are open what was sealed; keeps a sample to tell by. */
export async function isKeyLost(db: Db, vault: Vault): Promise<boolean> {
  const kept = await fetchSetting(db, SAMPLE);
  const sample = kept ?? (await anythingSealed(db));
  if (sample !== null) {
    try {
      vault.open(sample);
    } catch {
      return true;
    }
  }
  if (kept === null) await saveSetting(db, SAMPLE, vault.seal('calm lantern'));
  return false;
}

/** Every secret was entered again: from here on the present key is the one that counts. */
export async function takeKeyAsRight(db: Db, vault: Vault): Promise<void> {
  await saveSetting(db, SAMPLE, vault.seal('calm lantern'));
}

/** A secret of the desk's own, by the name it is kept under; where there is none, the first that is made counts. */
export async function ensureSecret(db: Db, vault: Vault, name: string, make: () => string): Promise<string> {
  const kept = await fetchSetting(db, name);
  if (kept !== null) return vault.open(kept);
  await db('settings')
    .insert({ key: name, value: vault.seal(make()) })
    .onConflict('key')
    .ignore();
  return vault.open((await fetchSetting(db, name))!);
}

/** How many watches and channels hold something no key opens. */
export async function countLocked(db: Db, vault: Vault): Promise<number> {
  const texts = [
    ...(await db('channels').where('settings', 'like', `%${MARK}%`).pluck('settings')),
    ...(await db('watches').whereNull('deleted_at').andWhere('config', 'like', `%${MARK}%`).pluck('config')),
    ...(await db('pages').where('copy_password', 'like', `%${MARK}%`).pluck('copy_password')),
  ].filter((text) => text !== null);
  const isLocked = (sealed: string) => {
    try {
      vault.open(sealed);
      return false;
    } catch {
      return true;
    }
  };
  return texts.filter((text) => text.match(/sealed:1:[\w-]+/g)?.some(isLocked)).length;
}

/** Every secret in settings opened; the settings themselves stay as they are. */
export function openSecrets<S extends object>(vault: Vault, settings: S): S {
  if (!Object.values(settings).some(isSealed)) return settings;
  const entries = Object.entries(settings).map(([name, value]) => [
    name,
    isSealed(value) ? vault.open(value) : (value as unknown),
  ]);
  return Object.fromEntries(entries) as S;
}

/** The same with nothing in place of what cannot be opened. */
export function openWhatOpens<S extends object>(vault: Vault, settings: S): S {
  const entries = Object.entries(settings).map(([name, value]) => {
    if (!isSealed(value)) return [name, value as unknown];
    try {
      return [name, vault.open(value)];
    } catch {
      return [name, ''];
    }
  });
  return Object.fromEntries(entries) as S;
}
