import { beforeAll, describe, expect, it } from 'vitest';
import { openStore } from '@/store/db/open';
import { ask, TOKEN } from '../helpers';
import { withinProcess, type Within } from '../within';

describe('a list that is asked for as a file', () => {
  let product: Within;
  withinProcess((started) => (product = started));
  const NAMES = 1_203;
  const get = async (query: string, headers: Record<string, string> = {}) => {
    const response = await fetch(`${product.base}/api/v1${query}`, {
      headers: { authorization: `Bearer ${TOKEN}`, ...headers },
    });
    return { status: response.status, headers: response.headers, text: await response.text() };
  };
  const linesOf = (text: string) => text.trimEnd().split('\n');

  beforeAll(async () => {
    const settings = { host: '127.0.0.1', port: 1 };
    // More than is read at once, twice over.
    const db = await openStore(product.folder);
    const rows = Array.from({ length: NAMES }, (_, i) => ({
      name: `crew ${i}`,
      token_hash: `${i}`,
      created_at: i,
    }));
    await db.batchInsert('api_tokens', rows as never, 100);
    await db.destroy();
    const name = '=HYPERLINK("x"), a "pier"';
    await product.api('POST', '/watches', { kind: 'port', name, settings });
  });

  it('comes whole as JSON Lines, each line as the list has it', async () => {
    const { status, headers, text } = await get('/tokens?as=jsonl&limit=3');
    expect([status, headers.get('content-type')]).toEqual([200, 'application/jsonl']);
    expect(headers.get('content-disposition')).toBe('attachment; filename="tokens.jsonl"');
    const rows = linesOf(text).map((line) => JSON.parse(line) as { id: number; name: string });
    const first = (await product.api('GET', '/tokens?limit=3')).body as object[];
    expect(rows.slice(0, 3)).toEqual(first);
    expect(new Set(rows.map(({ id }) => id)).size).toBe(rows.length);
    expect(rows.filter((row) => row.name.startsWith('crew'))).toHaveLength(NAMES);
  });

  it('comes as CSV with its columns named, and with nothing a spreadsheet would reckon', async () => {
    const { headers, text } = await get('/watches?as=csv');
    expect(headers.get('content-type')).toBe('text/csv; charset=utf-8; header=present');
    const [head, row] = text.split('\r\n');
    expect(head!.split(',').slice(0, 3)).toEqual(['id', 'version', 'name']);
    expect(row).toContain(`,"'=HYPERLINK(""x""), a ""pier""",`);
  });

  it('has its columns where it has no rows', async () => {
    expect((await get('/outages?as=csv&until=2001-01-01T00:00:00Z')).text).toMatch(/^id,[\w,]+\r\n$/);
    expect((await get('/outages?as=jsonl&until=2001-01-01T00:00:00Z')).text).toBe('');
  });

  it('is refused as any list is, before anything goes out', async () => {
    const { status, text } = await get('/watches?as=pdf');
    expect(status).toBe(422);
    expect(text).toContain('Expected as to be one of csv, jsonl');
    expect((await get('/watches/1?as=csv')).status).toBe(422);
    const stranger = await ask(`${product.base}/api/v1/watches?as=csv`);
    expect([stranger.status, stranger.text.includes('HYPERLINK')]).toEqual([401, false]);
  });

  it('is negotiated by its own media type', async () => {
    expect((await get('/watches?as=csv', { accept: 'text/csv' })).status).toBe(200);
    expect((await get('/watches?as=csv', { accept: 'application/json' })).status).toBe(406);
    expect((await get('/watches', { accept: 'text/csv' })).status).toBe(406);
  });
});
