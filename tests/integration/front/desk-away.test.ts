import { readFileSync, rmSync } from 'node:fs';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DeskProxy } from '@/server/desk/proxy';
import {
  ask,
  isAlive,
  makeCheckin,
  startProduct,
  TOKEN,
  until,
  type MadeWatch,
  type Product,
} from '../helpers';
import { startSignedIn } from '../signed-in';

const deskPid = ({ folder }: Product) => Number(readFileSync(join(folder, 'desk.pid'), 'utf8'));
const token = { authorization: `Bearer ${TOKEN}` };

describe('a desk that ends', () => {
  let product: Product;
  let made: MadeWatch;
  let cookie: string;

  beforeAll(async () => {
    ({ product, cookie } = await startSignedIn());
    made = await makeCheckin(product);
  });
  afterAll(async () => {
    await product.stop();
    rmSync(product.folder, { recursive: true });
  });

  it('is said in plain words, is heard around, and is replaced', async () => {
    const first = deskPid(product);
    process.kill(first, 'SIGKILL');
    const page = await until(async () => {
      const answer = await ask(`${product.base}/`, { headers: { cookie } });
      return answer.status === 503 && answer;
    }, 'nobody draws pages');
    expect(page.text).toContain('<h1>The desk is being started again.</h1>');
    expect(page.text).toContain('http-equiv="refresh"');
    expect(page.headers.get('retry-after')).toBe('3');
    // By then its end has been noticed, and nothing is handed on to it any more.
    await until(async () => {
      const { text } = await ask(`${product.base}/readyz`);
      return text === 'The desk does not answer: there are no pages and no API.\n';
    }, 'its end is noticed');
    const written = await ask(`${product.base}/api/v1/watches`, {
      method: 'POST',
      headers: { ...token, 'content-type': 'application/json' },
      body: JSON.stringify({ kind: 'checkin', name: 'Crew rota' }),
    });
    expect(written.status).toBe(503);
    expect(JSON.parse(written.text)).toMatchObject({
      code: 'desk.away',
      detail:
        'The desk is being started again. What you sent was not taken in. Go back and send it once more in a moment.',
    });
    // Whoever is not signed in is turned away as ever, and check-ins are heard.
    expect((await ask(`${product.base}/jobs`)).status).toBe(307);
    expect((await ask(made.checkinAddress, { method: 'POST' })).status).toBe(200);
    await until(async () => (await ask(`${product.base}/readyz`)).status === 200, 'revived');
    expect(deskPid(product)).not.toBe(first);
    const reports = (await product.api('GET', `/watches/${made.id}/reports`)).body as object[];
    expect(reports).toHaveLength(1);
    expect((await ask(`${product.base}/`, { headers: { cookie } })).text).toContain(
      'Nightly manifest backup',
    );
  });

  it('that is frozen is left out, and comes back where it thaws', async () => {
    const pid = deskPid(product);
    process.kill(pid, 'SIGSTOP');
    try {
      await until(async () => (await ask(`${product.base}/readyz`)).status === 503, 'left out', 20_000);
      expect((await ask(`${product.base}/`, { headers: { cookie } })).status).toBe(503);
      expect((await ask(made.checkinAddress, { method: 'POST' })).status).toBe(200);
      // What an open page asks for by itself is answered when there is somebody again.
      const background = ask(`${product.base}/jobs`, { headers: { cookie, rsc: '1' } });
      process.kill(pid, 'SIGCONT');
      expect((await background).status).toBe(200);
    } finally {
      process.kill(pid, 'SIGCONT');
    }
    expect(deskPid(product)).toBe(pid);
  });

  it('had kept whatever it said it had done', async () => {
    const pid = deskPid(product);
    const said: string[] = [];
    let ended = false;
    const making = async (name: string) => {
      for (let i = 0; !ended; i += 1) {
        const sent = {
          kind: 'checkin',
          name: `${name} ${i}`,
          schedule: { type: 'period', everySeconds: 60 },
        };
        // An answer that broke off half-way says nothing.
        const status = await product.api('POST', '/watches', sent).then(
          (answer) => answer.status,
          () => null,
        );
        if (status === 201) said.push(sent.name);
        else ended = true;
      }
    };
    const makers = ['Crew rota', 'Tide table', 'Weather pull'].map(making);
    await until(() => said.length > 20, 'some were made');
    process.kill(pid, 'SIGKILL');
    await Promise.all(makers);
    // Whoever asks may know of its end before its front door does.
    await until(() => deskPid(product) !== pid, 'another is there');
    await until(async () => (await ask(`${product.base}/readyz`)).status === 200, 'revived');
    const names: string[] = [];
    for (let path: string | null = '/watches?limit=500'; path !== null;) {
      const { body, headers } = await product.api('GET', path);
      names.push(...(body as { name: string }[]).map(({ name }) => name));
      path = /\/api\/v1([^>]*)>; rel="next"/.exec(headers.get('link') ?? '')?.[1] ?? null;
    }
    expect(said.filter((name) => !names.includes(name))).toEqual([]);
  });

  it('ends with a front door that was killed, and leaves the place to the next', async () => {
    const pid = deskPid(product);
    await product.kill();
    await until(() => !isAlive(pid), 'the desk ends with its front door');
    const next = await startProduct({ folder: product.folder, port: product.port });
    expect(deskPid(next)).not.toBe(pid);
    const names = (await next.api('GET', '/watches')).body as { name: string }[];
    expect(names.map(({ name }) => name)).toContain('Nightly manifest backup');
    product = next;
  });
});

describe('what is handed on to a desk', () => {
  let desk: Server;
  let door: Server;
  let base: string;
  const socket = `/tmp/lantern-desk-${process.pid}.sock`;
  let now: string | null = socket;
  /** What the desk does with a request. */
  let does: (request: IncomingMessage, response: ServerResponse) => void = () => undefined;
  let opened: () => void = () => undefined;

  beforeAll(async () => {
    desk = createServer((request, response) => does(request, response)).listen(socket);
    const proxy = new DeskProxy(
      {
        get socket() {
          return now;
        },
        isFirst: false,
        opened: () => new Promise((resolve) => (now === null ? (opened = resolve) : resolve())),
      },
      3,
    );
    door = createServer((request, response) => void proxy.pass(request, response)).listen(0, '127.0.0.1');
    await new Promise((resolve) => door.once('listening', resolve));
    base = `http://127.0.0.1:${(door.address() as { port: number }).port}`;
  });
  afterAll(() => {
    desk.closeAllConnections();
    desk.close();
    door.close();
  });

  it('says where it is not known whether it was done', async () => {
    does = (request) => request.socket.destroy();
    const sent = await ask(`${base}/api/v1/watches`, { method: 'POST', body: '{}' });
    expect([sent.status, sent.text]).toEqual([503, expect.stringContaining('is not known')]);
  });

  it('asks again, once, for a page that is open', async () => {
    let asked = 0;
    does = (request, response) => {
      asked += 1;
      if (asked === 1) request.socket.destroy();
      else response.end('drawn');
    };
    expect((await ask(`${base}/jobs`, { headers: { rsc: '1' } })).text).toBe('drawn');
    asked = 0;
    expect((await ask(`${base}/jobs`)).status).toBe(503);
    now = null;
    const waiting = ask(`${base}/jobs`, { headers: { rsc: '1' } });
    await until(() => opened !== undefined && asked === 1, 'nobody asked meanwhile');
    now = socket;
    await new Promise((resolve) => setTimeout(resolve, 50));
    opened();
    expect((await waiting).text).toBe('drawn');
  });

  it('is let go of when whoever asked leaves', async () => {
    const left = new Promise<void>((resolve) => {
      does = (request) => {
        request.once('close', resolve);
        leaving.abort();
      };
    });
    const leaving = new AbortController();
    await expect(fetch(`${base}/jobs`, { signal: leaving.signal })).rejects.toThrow(/abort/);
    await left;
  });

  it('is no more than the desk can take, and says so', async () => {
    const waiting: ServerResponse[] = [];
    does = (_, response) => void waiting.push(response);
    const many = Array.from({ length: 3 }, () => ask(`${base}/jobs`));
    await until(() => waiting.length === 3, 'all are handed on');
    const more = await ask(`${base}/api/v1/watches`, { headers: token });
    expect([more.status, more.text]).toEqual([503, expect.stringContaining('Too much is asked of the desk')]);
    for (const response of waiting) response.end('drawn');
    expect((await Promise.all(many)).map(({ text }) => text)).toEqual(['drawn', 'drawn', 'drawn']);
    does = (_, response) => response.end('drawn');
    expect((await ask(`${base}/jobs`)).text).toBe('drawn');
  });

  it('keeps several cookies apart, and passes a long answer whole', async () => {
    const long = 'x'.repeat(3_000_000);
    does = (_, response) => {
      response.setHeader('set-cookie', ['a=1; Path=/', 'b=2; Path=/']);
      response.end(long);
    };
    const answer = await fetch(`${base}/`);
    expect(answer.headers.getSetCookie()).toEqual(['a=1; Path=/', 'b=2; Path=/']);
    expect((await answer.text()).length).toBe(long.length);
  });
});
