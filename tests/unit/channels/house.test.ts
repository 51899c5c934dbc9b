import { chmodSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { desk } from '@/channels/kinds/desk';
import { NO_HOUSE } from '@/channels/frame/house';
import { push, pushedOf } from '@/channels/kinds/push';
import { script } from '@/channels/kinds/script';
import type { Notice } from '@/core/messages/notice';
import { outgoing } from './outgoing';

/** Whether a process is there, and not only its entry that nobody has taken note of. */
function isRunning(pid: number): boolean {
  try {
    return !/^State:\s+Z/m.test(readFileSync(`/proc/${pid}/status`, 'utf8'));
  } catch {
    return false;
  }
}

const SIGNAL = () => new AbortController().signal;

describe('this desk', () => {
  it('gets a notice with what it needs, and answers for nobody', async () => {
    const notices: Notice[] = [];
    const house = { ...NO_HOUSE, notify: (notice: Notice) => void notices.push(notice) };
    expect(await desk.send({ sound: true }, outgoing(), SIGNAL(), house)).toEqual({
      ok: true,
      retry: false,
      said: 'shown in what is open',
    });
    expect(notices).toEqual([
      {
        id: '1795680000000.7',
        title: 'Booking site is down',
        lines: ['Nothing listens on port 443.', 'Since Thu 26 Nov, 08:00 (UTC).'],
        link: 'https://watch.ternferry.test/watches/3',
        tone: 'bad',
        sound: true,
        at: Date.parse('2026-11-26T08:00:00Z'),
      },
    ]);
    expect(desk.shown({ sound: true })).toContain('with a sound');
    expect(desk.shown({ sound: false })).not.toContain('sound');
  });
});

describe('a script of this machine', () => {
  let folder: string;
  let scripts: string;
  const write = (name: string, text: string, mode = 0o755) => {
    writeFileSync(join(scripts, name), text);
    chmodSync(join(scripts, name), mode);
  };
  const run = (settings: { script: string; argument?: string }, signal = SIGNAL(), rest = {}) =>
    script.send({ argument: '', ...settings }, outgoing(rest), signal, { ...NO_HOUSE, scripts });

  beforeAll(() => {
    folder = mkdtempSync(join(tmpdir(), 'lantern-scripts-'));
    scripts = join(folder, 'scripts');
    mkdirSync(scripts);
    write(
      'tell',
      '#!/bin/sh\necho "$LANTERN_TONE $LANTERN_HAPPENING $LANTERN_WATCH_ID|$LANTERN_TITLE|$1|$#"\n',
    );
    write('read', '#!/bin/sh\ncat\n');
    write('environment', '#!/bin/sh\nenv | grep -o "^[A-Za-z_]*=" | tr -d = | sort | tr "\\n" " "\n');
    write('fails', '#!/bin/sh\necho no boat >&2\nexit 3\n');
    write('again', '#!/bin/sh\nexit 75\n');
    write('sleeps', `#!/bin/sh\necho $$ > ${folder}/pids\nsleep 50 &\necho $! >> ${folder}/pids\nsleep 60\n`);
    write('talks', '#!/bin/sh\nyes boat | head -c 5000000\n');
    write('eats', '#!/bin/sh\nhead -c 3000000000 /dev/zero | tail -c 3000000000 > /dev/null\n');
    write('no-program', 'hello', 0o644);
    writeFileSync(join(folder, 'outside'), '#!/bin/sh\necho outside\n');
    chmodSync(join(folder, 'outside'), 0o755);
    symlinkSync(join(folder, 'outside'), join(scripts, 'leads-out'));
  });
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  it('gets the facts in its environment and one argument as it is: no shell reads any of it', async () => {
    const title = '$(touch /tmp/x) `id` "; rm -rf / #';
    expect(await run({ script: 'tell', argument: '$HOME; echo two' }, SIGNAL(), { title })).toEqual({
      ok: true,
      retry: false,
      said: `It ended with 0: bad down 3|${title}|$HOME; echo two|1`,
    });
    expect((await run({ script: 'tell' })).said).toMatch(/\|0$/);
  });

  it('gets the whole as an event on its input, and nothing of our own environment', async () => {
    const said = (await run({ script: 'read' })).said;
    expect(said).toContain('"specversion":"1.0"');
    const names = (await run({ script: 'environment' })).said.replace('It ended with 0: ', '').split(' ');
    expect(names.filter((name) => !/^(LANTERN_\w+|PATH|LANG|PWD|SHLVL|_|)$/.test(name))).toEqual([]);
    expect(names).toContain('LANTERN_LINK');
  });

  it.each([
    ['fails', { ok: false, retry: false, said: 'It ended with 3: no boat' }],
    ['again', { ok: false, retry: true, said: 'It ended with 75' }],
    [
      'no-program',
      { ok: false, retry: false, said: '“no-program” may not be run: it is not marked as a program.' },
    ],
    ['leads-out', { ok: false, retry: false, said: '“leads-out” does not lie in the folder of scripts.' }],
    [
      'missing',
      { ok: false, retry: false, said: 'There is no script called “missing” in the folder of scripts.' },
    ],
  ])('%s says what came of it', async (name, answer) => {
    expect(await run({ script: name })).toEqual(answer);
  });

  it('is ended with all it started when it is called off, and heard no longer than is shown', async () => {
    const controller = new AbortController();
    const running = run({ script: 'sleeps' }, controller.signal);
    setTimeout(() => controller.abort(), 300);
    expect(await running).toMatchObject({ ok: false, retry: true, said: 'It was ended after 30 s' });
    const pids = readFileSync(join(folder, 'pids'), 'utf8').trim().split('\n').map(Number);
    expect(pids).toHaveLength(2);
    await vi.waitFor(() => expect(pids.filter(isRunning)).toEqual([]));
    const said = (await run({ script: 'talks' })).said;
    expect(said.length).toBeLessThan(400);
    // Whoever takes more memory than is given ends with an error.
    expect(await run({ script: 'eats' })).toMatchObject({ ok: false });
  });

  it('is run only where whoever runs the server allowed it', async () => {
    const settings = { script: 'tell', argument: '' };
    expect((await script.send(settings, outgoing(), SIGNAL())).said).toContain('LANTERN_SCRIPTS');
    const gone = { ...NO_HOUSE, scripts: join(folder, 'nowhere') };
    expect((await script.send(settings, outgoing(), SIGNAL(), gone)).said).toContain('is not there');
  });

  it.each(['../outside', '/bin/sh', '..', 'a/b', 'a\\b'])('does not take %j for a name', (name) => {
    expect(() => script.schema.validateSync({ script: name })).toThrow('without a path');
  });
});

describe('a device', () => {
  const keys = {
    p256dh: Buffer.alloc(65, 4).toString('base64url'),
    auth: Buffer.alloc(16).toString('base64url'),
  };

  it('shows what was said; messages about one trouble take each other’s place', () => {
    expect(pushedOf(outgoing())).toEqual({
      title: 'Booking site is down',
      body: 'Nothing listens on port 443.\nSince Thu 26 Nov, 08:00 (UTC).',
      link: 'https://watch.ternferry.test/watches/3',
      tag: 'w3.1795680000000',
      tone: 'bad',
      at: Date.parse('2026-11-26T08:00:00Z'),
      nth: 7,
    });
    expect(pushedOf(outgoing({ conversation: null })).tag).toBe('1795680000000.7');
    expect(pushedOf(outgoing({ follows: 'w1.5' })).tag).toBe('w1.5');
  });

  it.each([
    [{ ...keys, endpoint: 'nowhere' }, 'Expected an address'],
    [{ ...keys, endpoint: 'https://push.ternferry.test/x', auth: 'short' }, 'the secret of the device'],
    [{ ...keys, endpoint: 'https://push.ternferry.test/x', p256dh: 'short' }, 'the key of the device'],
  ])('is not taken from %j', (settings, why) => {
    expect(() => push.schema.validateSync(settings)).toThrow(why);
  });

  it('whose key is none is said to be so, and not tried again', async () => {
    const settings = { ...keys, endpoint: 'https://push.ternferry.test/x' };
    const made = { publicKey: 'x', privateKey: 'y' };
    const answer = await push.send(settings, outgoing(), SIGNAL(), {
      ...NO_HOUSE,
      pushKeys: async () => made,
    });
    expect(answer).toMatchObject({ ok: false, retry: false });
    expect(answer.said).toContain('could not be sealed');
    expect(push.shown(settings)).toBe('a device, by push.ternferry.test');
  });
});
