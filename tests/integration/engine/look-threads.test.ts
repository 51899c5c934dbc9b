import { rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import type { ProbeConfig } from '@/core/settings/watch-config';
import type { Evidence, Finding } from '@/core/causes/finding';
import type { LookedAt } from '@/engine/looks/look-thread';
import { LookThreads } from '@/engine/looks/look-threads';
import { runLook } from '@/engine/looks/look-runner';
import { lookupWith, parseHosts } from '@/probes/transport/lookup';
import { openVault } from '@/store/db/vault';
import { ROOT, tempFolder, webConfig } from '../helpers';

const HOSTS = 'booking.ternferry.test=127.0.0.1';
const SCRIPT = join(ROOT, 'dist/look-thread.js');

/** A finding without what differs from look to look. */
function lasting({ verdict, cause, detail, evidence }: Finding) {
  const { phases: _, ...rest } = evidence ?? {};
  return { verdict, cause, detail, evidence: rest };
}

describe('looks in threads', () => {
  let site: Server;
  let address: string;
  let folder: string;
  let threads: LookThreads | null = null;
  const errors: string[] = [];
  let here = 0;

  beforeAll(async () => {
    folder = tempFolder();
    site = createServer((request, response) => {
      response.sendDate = false;
      if (request.url === '/private' && request.headers.authorization !== 'Bearer gull') {
        response.statusCode = 401;
      }
      response.end(`Sailings for ${request.url}`);
    });
    await new Promise<void>((resolve) => site.listen(0, '127.0.0.1', resolve));
    address = `http://booking.ternferry.test:${(site.address() as AddressInfo).port}`;
  });

  afterAll(() => {
    site.close();
    rmSync(folder, { recursive: true, force: true });
  });

  afterEach(async () => {
    await threads?.close();
    threads = null;
    errors.length = 0;
    here = 0;
  });

  const lookHere = ({ kind, config }: LookedAt, before?: Evidence) => {
    here += 1;
    const options = {
      now: () => Date.now(),
      monotonic: () => performance.now(),
      lookup: lookupWith(parseHosts(HOSTS)),
      vault: openVault(folder),
      signal: new AbortController().signal,
      other: () => null,
    };
    return runLook(kind, config, options, before);
  };

  function start(script = SCRIPT, count = 2, glanceMs?: number): LookThreads {
    threads = new LookThreads({
      script,
      threads: count,
      data: { dataFolder: folder, hosts: HOSTS },
      now: () => Date.now(),
      here: lookHere,
      onlyHere: ({ kind }) => kind === 'combined',
      onError: (error) => errors.push((error as Error).message),
      glanceMs,
    });
    return threads;
  }

  /** A thread that finds everything fine, after what else it does with looks; `mark` is a file of its own. */
  function scripted(name: string, first: string): string {
    const file = join(folder, `${name}.mjs`);
    writeFileSync(
      file,
      `import { existsSync, writeFileSync } from 'node:fs';
       import { parentPort } from 'node:worker_threads';
       const mark = ${JSON.stringify(join(folder, name))};
       let begun = false;
       parentPort.on('message', ({ looks }) => {
         ${first}
         parentPort.postMessage(looks.map(({ look }) => ({ look, finding: { at: 1, ms: 1, verdict: 'fine' } })));
       });
       parentPort.postMessage([]);`,
    );
    return file;
  }

  const watch = (id: number, path: string, rest: Record<string, unknown> = {}): LookedAt => {
    const { settings, ...config } = webConfig(`${address}${path}`) as ProbeConfig;
    return { id, kind: 'web', config: { ...config, settings: { ...settings, ...rest } } };
  };

  it('finds what a look on the own thread finds', async () => {
    const all = [
      watch(1, '/fares'),
      watch(2, '/fares', { words: 'cancelled' }),
      watch(3, '/private'),
      { ...watch(4, '/fares'), kind: 'kite' },
    ];
    const expected = await Promise.all(all.map((one) => lookHere(one)));
    expect(expected.map((finding) => finding.cause)).toEqual([
      undefined,
      'text.missing',
      'reply.status',
      'look.broken',
    ]);
    here = 0;
    const pool = start();
    const found = await Promise.all(all.map((one) => pool.look(one)));
    expect(found.map(lasting)).toEqual(expected.map(lasting));
    expect(here).toBe(0);
  });

  it('goes by new settings from the next look on, and by none of a watch that is gone', async () => {
    const pool = start();
    expect((await pool.look(watch(1, '/fares', { words: 'fares' }))).verdict).toBe('fine');
    expect((await pool.look(watch(1, '/fares', { words: 'berths' }))).cause).toBe('text.missing');
    pool.forget(1);
    expect((await pool.look(watch(1, '/berths', { words: 'berths' }))).verdict).toBe('fine');
  });

  it('opens sealed secrets by itself, and keeps what a look compares with', async () => {
    const bearer = openVault(folder).seal('gull');
    const found = await start().look(watch(1, '/private', { bearer }), {
      baseline: 'as before',
      seenSince: 7,
    });
    expect(found).toMatchObject({ verdict: 'fine', evidence: { baseline: 'as before', seenSince: 7 } });
  });

  it('leaves to the own thread what needs the engine, and everything where there are no threads', async () => {
    const settings = { watches: [1], need: 'all', least: 1 };
    const config = { ...watch(9, '/').config, settings };
    await start().look({ id: 9, kind: 'combined', config });
    expect(here).toBe(1);
    await threads!.close();
    expect((await start(SCRIPT, 0).look(watch(1, '/fares'))).verdict).toBe('fine');
    expect(here).toBe(2);
  });

  it('takes a thread that dies for this machine’s own fault, and starts another', async () => {
    const script = scripted(
      'dies-once',
      `if (begun && !existsSync(mark)) { writeFileSync(mark, ''); throw new Error('a mast broke'); }
       begun = true;`,
    );
    const pool = start(script, 1);
    // It has begun: looks of a thread that dies before that are carried out here.
    expect((await pool.look(watch(3, '/'))).verdict).toBe('fine');
    const both = await Promise.all([pool.look(watch(1, '/')), pool.look(watch(2, '/'))]);
    const reason = 'the thread that carried it out is gone';
    const broken = { verdict: 'failed', cause: 'look.broken', detail: { reason } };
    expect(both).toMatchObject([broken, broken]);
    for (const { at, ms } of both) expect(at + ms).toBeLessThanOrEqual(Date.now());
    expect(errors).toEqual(['A thread that carries out looks is gone: a mast broke']);
    expect((await pool.look(watch(1, '/'))).verdict).toBe('fine');
    expect(here).toBe(0);
  });

  it('gives a thread up that hangs, and starts another; one that is only busy stays', async () => {
    const script = scripted(
      'hangs-once',
      `const busy = (ms) => { for (const end = performance.now() + ms; performance.now() < end; ); };
       const isAsked = (which) => looks.some(({ id }) => id === which);
       if (isAsked(2) && !existsSync(mark)) { writeFileSync(mark, ''); busy(Infinity); }
       if (isAsked(3)) busy(1000);`,
    );
    const pool = start(script, 1, 400);
    pool.begin();
    expect((await pool.look(watch(1, '/'))).verdict).toBe('fine');
    expect((await pool.look(watch(3, '/'))).verdict).toBe('fine');
    expect(errors).toEqual([]);
    const hanging = await Promise.all([pool.look(watch(2, '/')), pool.look(watch(1, '/'))]);
    expect(hanging.map(({ cause }) => cause)).toEqual(['look.broken', 'look.broken']);
    expect(errors).toEqual(['A thread that carries out looks is gone: it gives no sign of life']);
    expect((await pool.look(watch(2, '/'))).verdict).toBe('fine');
    expect(here).toBe(0);
  });

  it('is asked for signs of life, and gives them', async () => {
    const pool = start(SCRIPT, 1, 400);
    pool.begin();
    expect((await pool.look(watch(1, '/'))).verdict).toBe('fine');
    await new Promise((resolve) => setTimeout(resolve, 4000));
    expect(errors).toEqual([]);
    expect((await pool.look(watch(1, '/'))).verdict).toBe('fine');
  });

  it('looks by itself where threads cannot be started, and says so once', async () => {
    const pool = start(join(folder, 'not-there.js'), 1);
    expect((await pool.look(watch(1, '/fares'))).verdict).toBe('fine');
    expect((await pool.look(watch(2, '/fares'))).verdict).toBe('fine');
    expect(here).toBe(2);
    expect(errors).toHaveLength(1);
  });
});
