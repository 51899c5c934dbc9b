import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { chmodSync, existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const MARK = 'sealed:1:';
const KEY_FILE = 'secrets.key';

/** Keeps secrets sealed in the database; the key lies beside it, in a file only its owner may read. */
export interface Vault {
  /** AES-256-GCM with a nonce of its own (NIST SP 800-38D). Sealing nothing gives nothing. */
  seal: (secret: string) => string;
  /** What was never sealed comes back as it is. Throws where the key is another one. */
  open: (sealed: string) => string;
}

export function isSealed(text: unknown): text is string {
  return typeof text === 'string' && text.startsWith(MARK);
}

function keyOf(folder: string): Buffer {
  const file = join(folder, KEY_FILE);
  if (!existsSync(file)) {
    try {
      writeFileSync(file, randomBytes(32).toString('base64'), { mode: 0o600, flag: 'wx' });
    } catch (error) {
      // The other process was faster.
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    }
  }
  chmodSync(file, 0o600);
  const key = Buffer.from(readFileSync(file, 'utf8').trim(), 'base64');
  if (key.length !== 32) throw new Error(`Expected ${file} to hold 32 bytes in base64, got ${key.length}.`);
  return key;
}

export function openVault(folder: string): Vault {
  const key = keyOf(folder);
  return {
    seal: (secret) => {
      if (secret === '') return '';
      const nonce = randomBytes(12);
      const cipher = createCipheriv('aes-256-gcm', key, nonce);
      const text = Buffer.concat([cipher.update(secret, 'utf8'), cipher.final()]);
      return MARK + Buffer.concat([nonce, cipher.getAuthTag(), text]).toString('base64url');
    },
    open: (sealed) => {
      if (!isSealed(sealed)) return sealed;
      const bytes = Buffer.from(sealed.slice(MARK.length), 'base64url');
      const decipher = createDecipheriv('aes-256-gcm', key, bytes.subarray(0, 12));
      decipher.setAuthTag(bytes.subarray(12, 28));
      try {
        return Buffer.concat([decipher.update(bytes.subarray(28)), decipher.final()]).toString('utf8');
      } catch {
        throw new Error(
          `a secret cannot be opened with the key in ${KEY_FILE}; enter it again, or put the old key file back`,
        );
      }
    },
  };
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
