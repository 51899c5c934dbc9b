import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterEach, describe, expect, it } from 'vitest';
import { openStore } from '@/store/db/open';
import { sayTo } from '../say-to';
import { WAITS } from '@/engine/link/waits';
import { WaitingEngine } from '@/server/waiting-engine';
import { EngineSupervisor } from '@/server/engine-supervisor';
import { listen, trackSockets } from '@/standins/listener';
import {
  ask,
  freePort,
  isAlive,
  makeCheckin,
  ROOT,
  startProduct,
  tempFolder,
  until,
  type Product,
} from '../helpers';
import { connect, openRoom, type Answer } from '../chat-room';
import { startWithin, type Within } from '../within';

const products: Product[] = [];
const stops: (() => Promise<void>)[] = [];
const leave: (() => void)[] = [];

async function product(options: Parameters<typeof startProduct>[0] = {}): Promise<Product> {
  const started = await startProduct(options);
  products.push(started);
  return started;
}

afterEach(async () => {
  for (const one of products.splice(0)) {
    if (one.process.exitCode === null && one.process.signalCode === null) await one.stop();
    rmSync(one.folder, { recursive: true, force: true });
  }
  for (const stop of stops.splice(0)) await stop();
  for (const free of leave.splice(0)) free();
});

/** One whose parts live in this process, for what none of them has to be killed for. */
async function within(): Promise<Within> {
  const started = await startWithin();
  stops.push(async () => void (await started.stop()));
  leave.push(() => rmSync(started.folder, { recursive: true, force: true }));
  return started;
}

/** A chat room for one test. */
const room = (answer?: Answer) => openRoom((stop) => stops.push(stop), answer);

const page = async () => {
  const server = createServer((_, response) => response.end('The boats sail'));
  stops.push(trackSockets(server));
  return `http://127.0.0.1:${await listen(server, 0)}/`;
};

const findings = async (of: Product, id: number) =>
  (await of.api('GET', `/watches/${id}/findings`)).body as { at: string; verdict: string }[];
const outages = async (of: Product) =>
  (await of.api('GET', '/outages')).body as { cause: string; began: string }[];

const FAKETIME = '/usr/lib/x86_64-linux-gnu/faketime/libfaketime.so.1';
if (!existsSync(FAKETIME)) process.stderr.write('libfaketime is not installed: its test is left out\n');

describe('a desk that does not stay up', () => {
  it('is told, however often it is started again', async () => {
    const chat = await room();
    const own = await product();
    await connect(own, chat.address);
    const deskPid = () => Number(readFileSync(join(own.folder, 'desk.pid'), 'utf8'));
    const answers = async () => (await ask(`${own.base}/readyz`)).status === 200;
    for (let ends = 0; ends < 4; ends += 1) {
      const pid = deskPid();
      process.kill(pid, 'SIGKILL');
      await until(async () => !isAlive(pid) && deskPid() !== pid && (await answers()), 'another');
      // Three times is bad luck.
      if (ends === 2) expect(chat.messages.some((text) => text.includes('does not stay up'))).toBe(false);
    }
    await until(() => chat.messages.some((text) => text.includes('does not stay up')), 'told', 30_000);
  });
});

describe('a clock that is set', () => {
  it.runIf(existsSync(FAKETIME))(
    'back by an hour stops neither looks nor messages, and is noted',
    async () => {
      const folder = tempFolder();
      const clock = join(folder, 'clock');
      writeFileSync(clock, '+0');
      // The room is busy at first, so that a try waits while the clock is turned.
      const chat = await room((count) => (count <= 2 ? 503 : 200));
      const own = await product({
        env: {
          LD_PRELOAD: FAKETIME,
          FAKETIME_TIMESTAMP_FILE: clock,
          FAKETIME_NO_CACHE: '1',
          FAKETIME_DONT_FAKE_MONOTONIC: '1',
        },
      });
      await connect(own, chat.address);
      const address = await page();
      const made = await own.api('POST', '/watches', { kind: 'web', settings: { address }, everySeconds: 5 });
      const { id } = made.body as { id: number };
      const gone = await own.api('POST', '/watches', {
        kind: 'port',
        settings: { host: '127.0.0.1', port: await freePort() },
        secondLooks: 0,
        everySeconds: 5,
      });
      expect(gone.status).toBe(201);
      await until(async () => (await findings(own, id)).length >= 2, 'looks');
      await until(async () => (await outages(own)).length === 1, 'an outage');
      const before = await findings(own, id);
      writeFileSync(clock, '-1h');
      await until(
        async () => {
          const now = await findings(own, id);
          const early = now.filter(({ at }) => Date.parse(at) < Date.parse(before[0]!.at) - 3_000_000);
          return early.length >= 3;
        },
        'looks go on by the clock as it is',
        30_000,
      );
      await until(
        () => chat.messages.some((text) => text.includes('is down')),
        'the message gets through',
        30_000,
      );
      await until(
        () => chat.messages.some((text) => /was set by .* back/.test(text)),
        'the jump is told',
        30_000,
      );
      writeFileSync(clock, '+0');
      await until(
        async () => Date.parse((await findings(own, id))[0]!.at) > Date.parse(before[0]!.at) + 5_000,
        'looks go on when it is right again',
        30_000,
      );
      rmSync(folder, { recursive: true, force: true });
    },
  );
});

describe('channels', () => {
  it('go each by itself: a room beside four sick ones is told as fast as without them', async () => {
    const own = await within();
    const well = await room();
    const sick = [await room(() => 0), await room(() => 0), await room(() => 503), await room(() => 500)];
    const channels: number[] = [];
    for (const [i, one] of sick.entries()) channels.push(await connect(own, one.address, `Sick ${i}`));
    channels.push(await connect(own, well.address));
    // A hundred messages at once are more than any batch.
    const db = await openStore(own.folder, { migrate: false });
    const event = { kind: 'steady' as const, since: Date.now() };
    for (let i = 0; i < 100; i += 1) await sayTo(db, { event, name: `Kiosk ${i}`, channels, at: Date.now() });
    await db.destroy();
    await own.api('PATCH', `/channels/${channels.at(-1)}`, { enabled: true });
    await until(() => well.messages.length >= 100, 'all hundred arrive', 30_000);
    expect(new Set(well.messages).size).toBe(well.messages.length);
  });

  it('that rest are sent nothing of what waits, and all of it when they wake', async () => {
    const own = await within();
    let open = false;
    const chat = await room(() => (open ? 200 : 503));
    const id = await connect(own, chat.address);
    await own.api('POST', '/watches', {
      kind: 'port',
      name: 'North pier',
      settings: { host: '127.0.0.1', port: await freePort() },
      secondLooks: 0,
    });
    const waiting = async () => {
      const deliveries = (await own.api('GET', '/deliveries')).body as { state: string; attempts: number }[];
      return deliveries.some(({ state, attempts }) => state === 'waiting' && attempts > 0);
    };
    await until(waiting, 'a try that failed');
    await own.api('PATCH', `/channels/${id}`, { enabled: false });
    open = true;
    await new Promise((resolve) => setTimeout(resolve, 7000));
    expect(chat.messages).toEqual([]);
    await own.api('PATCH', `/channels/${id}`, { enabled: true });
    await until(() => chat.messages.length === 1, 'it arrives after all', 20_000);
  });
});

describe('jobs that knock in vain', () => {
  it('are not called missed for a front door that was killed while the engine went on, or that froze', async () => {
    const [killed, frozen] = await Promise.all([product(), product()]);
    const often = { schedule: { type: 'period', everySeconds: 10 }, leewaySeconds: 0 };
    const [first, second] = await Promise.all([makeCheckin(killed, often), makeCheckin(frozen, often)]);
    expect((await ask(first.checkinAddress)).status).toBe(200);
    expect((await ask(second.checkinAddress)).status).toBe(200);
    await killed.kill();
    process.kill(frozen.process.pid!, 'SIGSTOP');
    // Longer than the jobs may stay away, and longer than a pulse may be late.
    await new Promise((resolve) => setTimeout(resolve, 17_000));
    process.kill(frozen.process.pid!, 'SIGCONT');
    const again = await product({ folder: killed.folder, port: killed.port });
    expect((await ask(first.checkinAddress)).status).toBe(200);
    expect((await ask(second.checkinAddress)).status).toBe(200);
    await new Promise((resolve) => setTimeout(resolve, 3000));
    expect([await outages(again), await outages(frozen)]).toEqual([[], []]);
    // Who really stays away is missed all the same.
    await until(async () => (await outages(again)).length === 1, 'missed', 20_000);
  });
});

const mountable = process.getuid?.() === 0 && spawnSync('mount', ['--version']).status === 0;

describe('a disk that is full', () => {
  it.runIf(mountable)('is told everywhere, does not hide an outage, and blames no job', async () => {
    const place = tempFolder();
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=20m', 'tmpfs', place]);
    leave.push(() => {
      execFileSync('umount', ['-l', place]);
      rmSync(place, { recursive: true, force: true });
    });
    const folder = join(place, 'data');
    const own = await product({ folder });
    const chat = await room();
    await connect(own, chat.address);
    const port = await freePort();
    const server = createServer((_, response) => response.end('The boats sail'));
    await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve));
    const stopServer = trackSockets(server);
    const made = await own.api('POST', '/watches', {
      kind: 'web',
      name: 'Booking site',
      settings: { address: `http://127.0.0.1:${port}/` },
      everySeconds: 5,
      secondLooks: 0,
    });
    expect(made.status).toBe(201);
    const { checkinAddress } = await makeCheckin(own, {
      schedule: { type: 'period', everySeconds: 10 },
      leewaySeconds: 5,
    });
    // The job runs while there is room, and rests while there is none: for that time it is not to be blamed.
    const knock = async () => (await ask(checkinAddress)).status;
    const runs = () => {
      const timer = setInterval(() => void knock().catch(() => undefined), 2000);
      leave.push(() => clearInterval(timer));
      return () => clearInterval(timer);
    };
    expect(await knock()).toBe(200);
    const rest = runs();
    await until(() => existsSync(join(folder, 'reserve')), 'a reserve is kept', 20_000);
    rest();
    const { bavail, bsize } = statfsSync(place);
    try {
      writeFileSync(join(place, 'ballast'), Buffer.alloc(Math.max(0, bavail * bsize - 4096)));
    } catch (error) {
      // The product may have been faster with the last of the room.
      expect((error as NodeJS.ErrnoException).code).toBe('ENOSPC');
    }
    // Something that takes room is asked for, until none is left.
    const output = 'x'.repeat(90_000);
    await until(
      async () =>
        (await ask(checkinAddress, { method: 'POST', body: output })).status !== 200 ||
        !existsSync(join(folder, 'reserve')),
      'the disk is full',
      30_000,
    );
    await until(async () => (await ask(`${own.base}/readyz`)).status === 503, 'not ready', 30_000);
    const why = (await ask(`${own.base}/readyz`)).text;
    expect(why).toMatch(/disk of the data folder is full|cannot be kept/);
    await stopServer();
    await until(
      () => chat.messages.some((text) => text.includes('Booking site is down')),
      'the outage is told',
      40_000,
    );
    await until(() => chat.messages.some((text) => text.includes('is full')), 'the disk is told', 40_000);
    rmSync(join(place, 'ballast'));
    await until(async () => (await ask(`${own.base}/readyz`)).status === 200, 'ready again', 40_000);
    expect(await knock()).toBe(200);
    runs();
    await until(
      () => chat.messages.some((text) => text.includes('There is room on the disk again')),
      'it is over',
      40_000,
    );
    expect((await outages(own)).map(({ cause }) => cause)).toEqual(['port.refused']);
    expect(existsSync(join(folder, 'reserve'))).toBe(true);
  });
});

describe('an engine that hangs', () => {
  it('is told by /readyz at once, and does not keep the front door from ending', async () => {
    const own = await product();
    const engine = own.enginePid();
    process.kill(engine, 'SIGSTOP');
    const asked = performance.now();
    expect((await ask(`${own.base}/readyz`)).text).toBe('The engine does not answer.\n');
    expect(performance.now() - asked).toBeLessThan(5000);
    const began = performance.now();
    expect(await own.stop()).toBe(0);
    expect(performance.now() - began).toBeLessThan(20_000);
    expect(isAlive(engine)).toBe(false);
  });

  it('is replaced after a while by one that goes on', async () => {
    const made = await within();
    const { folder } = made;
    await made.stop();
    const said: string[] = [];
    const before = { ...process.env };
    Object.assign(process.env, { LANTERN_DATA: folder, PORT: '0' });
    const supervisor = new EngineSupervisor({
      waiting: new WaitingEngine(join(ROOT, 'dist/engine.js')),
      dataFolder: folder,
      onNews: () => undefined,
      say: (text) => said.push(text),
      frozenAfterMs: 1500,
    });
    await supervisor.start();
    const pid = async () => (await supervisor.link.call('ping', {})).pid;
    const first = await until(() => pid().catch(() => null), 'the engine answers');
    process.kill(first, 'SIGSTOP');
    const second = await until(async () => {
      const now = await pid().catch(() => first);
      return now !== first && now;
    }, 'another one answers');
    expect(isAlive(first)).toBe(false);
    expect(said.join('\n')).toContain('the engine has not answered for 2 s; replacing it');
    await supervisor.stop();
    await until(() => !isAlive(second), 'it ended');
    for (const name of ['LANTERN_DATA', 'PORT']) delete process.env[name];
    Object.assign(process.env, before);
  });
});

describe('a start that cannot be', () => {
  const start = (folder: string, env: Record<string, string> = {}) => {
    const ended = spawnSync(process.execPath, ['dist/server.js'], {
      cwd: ROOT,
      timeout: 30_000,
      env: { ...process.env, PORT: '0', LANTERN_DATA: folder, ...env },
    });
    return { status: ended.status, said: ended.stdout.toString() + ended.stderr.toString() };
  };
  const refused = (folder: string, words: RegExp) => {
    const { status, said } = start(folder);
    expect(said).toMatch(words);
    expect(said).toContain(folder);
    expect(said).not.toContain('    at ');
    expect(status).toBe(1);
  };

  it('is told in a sentence where another front door runs on the folder, or a newer version did', async () => {
    const own = await product();
    const { folder } = own;
    refused(folder, /Another Calm Lantern already runs on/);
    expect((await ask(`${own.base}/readyz`)).status).toBe(200);
    await own.stop();
    const file = join(folder, 'lantern.db');
    const db = new Database(file);
    db.exec("INSERT INTO knex_migrations (name, batch, migration_time) VALUES ('29991231-later', 99, 0)");
    db.close();
    const before = readFileSync(file);
    refused(folder, /was made by a newer version of Calm Lantern \(it knows of 29991231-later\)/);
    expect(readFileSync(file).equals(before)).toBe(true);
  });

  it('leaves no engine behind that was begun early, however soon it is over', async () => {
    const folder = tempFolder();
    leave.push(() => rmSync(folder, { recursive: true, force: true }));
    const waiting = spawn(process.execPath, ['dist/engine.js', WAITS], {
      ...{ cwd: ROOT, stdio: ['ignore', 'ignore', 'ignore', 'ipc'] },
      env: { ...process.env, LANTERN_DATA: folder },
    });
    waiting.disconnect();
    expect(await once(waiting, 'exit')).toEqual([0, null]);
    expect(readdirSync(folder)).toEqual([]);
  });

  it('is told in a sentence: a file in place of the folder, and one that can only be read', () => {
    const place = tempFolder();
    const file = join(place, 'data');
    writeFileSync(file, '');
    refused(file, /Expected a folder at .*, found a file/);
    if (mountable) {
      const closed = join(place, 'closed');
      mkdirSync(closed);
      execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=1m,ro', 'tmpfs', closed]);
      leave.push(() => void execFileSync('umount', ['-l', closed]));
      refused(closed, /it can only be read/);
    }
    leave.push(() => rmSync(place, { recursive: true, force: true }));
  });
});
