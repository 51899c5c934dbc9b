import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { answerApi, OWN_ADDRESSES } from '@/api/answer-api';
import { readEnvironment } from '@/core/settings/environment';
import type { ServerContext } from '@/server/context';
import { tempStore, type TempStore } from '../../integration/helpers';
import { testWorld } from '../test-world';

const NOW = Date.parse('2026-11-28T08:00:00Z');

describe('what is asked for under /api', () => {
  let store: TempStore;
  let context: ServerContext;

  beforeEach(async () => {
    store = await tempStore();
    const environment = readEnvironment({ LANTERN_DATA: store.folder });
    context = { ...testWorld({ db: store.db, now: () => NOW }), environment } as ServerContext;
  });
  afterEach(() => store.close());

  const ask = async (method: string, path: string) => {
    const request = new Request(`http://desk.test/api${path}`, { method });
    const answer = await answerApi(request, path.split('/').slice(1), context);
    expect(answer.headers.get('cache-control'), `${method} ${path}`).toBe('no-store');
    const text = await answer.text();
    const { code } = (text === '' ? {} : JSON.parse(text)) as { code?: string };
    return { status: answer.status, code, allow: answer.headers.get('allow') };
  };

  it.each(Object.entries(OWN_ADDRESSES))(
    'is answered at %s by the methods it takes, and no other',
    async (path, own) => {
      const at = path.replace('{id}', '1');
      const methods = Object.keys(own);
      const allow = [...methods, ...(methods.includes('GET') ? ['HEAD'] : []), 'OPTIONS'].join(', ');
      expect(await ask('OPTIONS', at)).toEqual({ status: 204, code: undefined, allow });
      expect(await ask('PUT', at)).toEqual({ status: 405, code: 'method.unknown', allow });
      // Nobody is signed in, and nothing was sent: whoever answers says so.
      for (const method of methods) {
        const { status, code } = await ask(method, at);
        expect([status, code], `${method} ${path}`).not.toContain('not.found');
        expect(status).not.toBe(405);
        expect(status).toBeLessThan(500);
      }
    },
  );

  it('is asked for by HEAD as by GET, without a body', async () => {
    const head = await ask('HEAD', '/sessions');
    expect(head).toEqual({ ...(await ask('GET', '/sessions')), code: undefined });
    expect((await ask('HEAD', '/session')).status).toBe(405);
  });

  it.each(['/nothing', '/sessions/1/more', '/session/1', '/constructor', '/v2/watches'])(
    'is nothing at %s',
    async (path) => {
      // Who is not signed in is told no more than that.
      expect(await ask('GET', path)).toMatchObject({ status: 401, code: 'signin.needed' });
    },
  );

  it('leads to the API that programs use', async () => {
    expect(await ask('GET', '/v1/watches')).toMatchObject({ status: 401, code: 'signin.needed' });
    expect(await ask('OPTIONS', '/v1/watches')).toMatchObject({ status: 401 });
  });
});
