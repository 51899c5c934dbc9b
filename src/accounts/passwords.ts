import { randomBytes, scrypt, timingSafeEqual, type ScryptOptions } from 'node:crypto';
import { withHashSlot } from './hash-limiter';

/** scrypt (RFC 7914) with 64 MiB a guess. */
const COST = { N: 2 ** 16, r: 8, p: 1 };
const KEY_BYTES = 32;

function derive(password: string, salt: Buffer, options: ScryptOptions): Promise<Buffer> {
  const work = () =>
    new Promise<Buffer>((resolve, reject) => {
      scrypt(
        password.normalize('NFKC'),
        salt,
        KEY_BYTES,
        { ...options, maxmem: 256 * 2 ** 20 },
        (error, key) => (error ? reject(error) : resolve(key)),
      );
    });
  return withHashSlot(work);
}

/** "scrypt$N$r$p$salt$key", salt and key in base64url. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  const key = await derive(password, salt, COST);
  return ['scrypt', COST.N, COST.r, COST.p, salt.toString('base64url'), key.toString('base64url')].join('$');
}

export async function isPassword(password: string, hash: string): Promise<boolean> {
  const [scheme, N, r, p, salt, key] = hash.split('$');
  if (scheme !== 'scrypt' || !salt || !key) return false;
  const expected = Buffer.from(key, 'base64url');
  const got = await derive(password, Buffer.from(salt, 'base64url'), {
    N: Number(N),
    r: Number(r),
    p: Number(p),
  });
  return expected.length === got.length && timingSafeEqual(expected, got);
}
