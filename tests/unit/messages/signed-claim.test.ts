import { describe, expect, it } from 'vitest';
import { readClaim, signClaim } from '@/store/messages/signed-claim';

const KEY = Buffer.alloc(32, 7);

describe('a signed claim', () => {
  const token = signClaim('take', 'a1.b2', KEY);

  it('is read by whoever has the key, for what it was signed for', () => {
    expect(token).toMatch(/^a1\.b2\.[\w-]{22}$/);
    expect(readClaim('take', token, KEY)).toBe('a1.b2');
    expect(readClaim('confirm', token, KEY)).toBeNull();
    expect(readClaim('take', token, Buffer.alloc(32, 8))).toBeNull();
  });

  it('is nothing where a single character is another, the last one too', () => {
    for (let at = 0; at < token.length; at += 1) {
      for (const other of ['a', 'b', 'A', '_']) {
        const changed = token.slice(0, at) + other + token.slice(at + 1);
        if (changed !== token) expect(readClaim('take', changed, KEY), changed).toBeNull();
      }
    }
  });

  it('is nothing where it is longer than any, or has strange signs', () => {
    const long = 'x'.repeat(600);
    expect(readClaim('take', signClaim('take', long, KEY), KEY)).toBeNull();
    expect(readClaim('take', signClaim('take', 'a b', KEY), KEY)).toBeNull();
    expect(readClaim('take', signClaim('take', '', KEY), KEY)).toBeNull();
    expect(readClaim('take', '', KEY)).toBeNull();
  });
});
