import { spawn, spawnSync, type ChildProcessWithoutNullStreams } from 'node:child_process';
import { chmodSync, mkdirSync, readFileSync, readdirSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { freePort, makeCheckin, ROOT, tempFolder, until } from '../helpers';
import { withinProcess, type Within } from '../within';

const SHELLS = [['dash'], ['busybox', 'sh']].filter(
  ([program, ...rest]) => spawnSync(program!, [...rest, '-c', 'true']).status === 0,
);
if (SHELLS.length < 2) process.stderr.write(`the wrapper is tried with ${SHELLS.length} shells only\n`);

interface Ended {
  code: number | null;
  signal: NodeJS.Signals | null;
  out: string;
  err: string;
  ms: number;
}

interface Report {
  is: string;
  code: number | null;
  run: string;
  output: string | null;
  runMs: number | null;
  agent: string;
}

describe('the wrapper for jobs', () => {
  let product: Within;
  let folder: string;
  let script: string;

  withinProcess((started) => (product = started));
  beforeAll(async () => {
    folder = tempFolder();
    script = join(folder, 'lantern-run');
    const served = await fetch(`${product.base}/lantern-run`);
    expect(served.headers.get('content-type')).toMatch(/^text\/plain/);
    writeFileSync(script, await served.text());
    chmodSync(script, 0o755);
  });
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  interface Wish {
    shell?: string[];
    env?: Record<string, string>;
    stdin?: string;
    onStart?: (child: ChildProcessWithoutNullStreams) => void;
  }

  function wrapped(
    key: string,
    command: string[],
    { shell, env, stdin, onStart }: Wish = {},
  ): Promise<Ended> {
    const scratch = join(folder, 'scratch');
    mkdirSync(scratch, { recursive: true });
    const [program, ...rest] = shell ?? ['dash'];
    const child = spawn(program!, [...rest, script, key, '--', ...command], {
      env: { PATH: process.env.PATH!, TMPDIR: scratch, ...env } as unknown as NodeJS.ProcessEnv,
    });
    const started = performance.now();
    let out = '';
    let err = '';
    child.stdout.on('data', (chunk: Buffer) => (out += chunk.toString()));
    child.stderr.on('data', (chunk: Buffer) => (err += chunk.toString()));
    child.stdin.end(stdin ?? '');
    onStart?.(child);
    return new Promise((resolve) => {
      child.on('close', (code, signal) => {
        // Nothing is left behind, whatever came of it.
        expect(readdirSync(scratch)).toEqual([]);
        resolve({ code, signal, out, err, ms: performance.now() - started });
      });
    });
  }

  async function job(): Promise<{ key: string; reports: () => Promise<Report[]> }> {
    const { id, checkinAddress } = await makeCheckin(product);
    const reports = async () =>
      [...((await product.api('GET', `/watches/${id}/reports`)).body as unknown as Report[])].reverse();
    return { key: checkinAddress.split('/').at(-1)!, reports };
  }

  it('passes the shell checker as it is served', () => {
    const checked = spawnSync('shellcheck', ['-s', 'sh', script], { encoding: 'utf8' });
    if (checked.error) {
      process.stderr.write('shellcheck is not installed: the wrapper is not checked by it\n');
      return;
    }
    expect(checked.stdout).toBe('');
    expect(checked.status).toBe(0);
  });

  describe.each(SHELLS)('under %s %s', (...given) => {
    const shell = given.filter(Boolean);

    it('runs the command untouched, and reports how it ended with the end of its output', async () => {
      const { key, reports } = await job();
      const program = 'printf "%s|" "$@"; printf "%s" "$SHADE"; cat; echo "not well" >&2; exit 3';
      const ended = await wrapped(key, ['sh', '-c', program, 'x', 'two words', '*', '', '$HOME'], {
        shell,
        env: { SHADE: 'oak & "ash"' },
        stdin: 'from before\n',
      });
      expect(ended).toMatchObject({
        code: 3,
        out: 'two words|*||$HOME|oak & "ash"from before\n',
        err: 'not well\n',
      });
      const [begun, failed] = await reports();
      expect(begun).toMatchObject({ is: 'begun', agent: expect.stringMatching(/lantern-run|Wget/) });
      expect(failed).toMatchObject({ is: 'failed', code: 3, run: begun!.run });
      // What goes to two streams at once may arrive in either order.
      expect(failed!.output).toContain('two words|*||$HOME|oak & "ash"');
      expect(failed!.output).toContain('from before');
      expect(failed!.output).toContain('not well');
      await until(async () => (await reports()).at(-1)!.runMs !== null, 'the length of the run');
    });

    it('runs the command also where a report of its own ends while its pipes are made', async () => {
      const { key } = await job();
      // What gathers the output is slow to begin, and the report is over meanwhile.
      const whole = readFileSync(script, 'utf8');
      const gathers = /tail -c "\$lr_bytes" (\S+)(.*)&\n/;
      expect(whole).toMatch(gathers);
      writeFileSync(script, whole.replace(gathers, '(sleep 0.4; exec tail -c "$lr_bytes" $1$2) &\n'));
      try {
        const { code, out, err } = await wrapped(key, ['echo', 'ran'], { shell });
        expect([code, out, err]).toEqual([0, 'ran\n', '']);
      } finally {
        writeFileSync(script, whole);
      }
    });

    it('keeps the end of long output, and lets all of it through', async () => {
      const { key, reports } = await job();
      const ended = await wrapped(
        key,
        ['sh', '-c', 'i=0; while [ $i -lt 40000 ]; do echo "line $i"; i=$((i+1)); done'],
        {
          shell,
        },
      );
      expect(ended.code).toBe(0);
      expect(ended.out.split('\n')).toHaveLength(40_001);
      const done = (await reports()).at(-1)!;
      expect(done).toMatchObject({ is: 'done', code: 0 });
      expect(done.output!.endsWith('line 39999\n')).toBe(true);
      expect(done.output!.length).toBeLessThan(100_000);
    });

    it.each(['SIGTERM', 'SIGHUP', 'SIGUSR1', 'SIGINT'] as const)(
      'hands %s on to the command',
      async (signal) => {
        const { key, reports } = await job();
        const name = signal.slice(3);
        const ended = await wrapped(
          key,
          [
            'sh',
            '-c',
            `trap 'echo heard ${name}; exit 42' ${name} TERM; echo ready; while :; do sleep 0.05; done`,
          ],
          {
            shell,
            onStart: (child) => child.stdout.once('data', () => child.kill(signal)),
          },
        );
        expect(ended.code).toBe(42);
        expect(ended.out).toContain('heard');
        expect((await reports()).at(-1)).toMatchObject({ is: 'failed', code: 42 });
      },
    );

    it('tells of a command that is not there, and of one a signal ended', async () => {
      const { key, reports } = await job();
      expect((await wrapped(key, ['/no/such/program'], { shell })).code).toBe(127);
      expect((await wrapped(key, ['sh', '-c', 'kill -9 $$'], { shell })).code).toBe(137);
      const codes = (await reports()).filter((report) => report.is === 'failed').map((report) => report.code);
      expect(codes).toEqual([127, 137]);
    });

    it('does not wait for what the command left running', async () => {
      const { key, reports } = await job();
      const ended = await wrapped(key, ['sh', '-c', 'sleep 20 & echo started'], { shell });
      expect(ended).toMatchObject({ code: 0, out: 'started\n' });
      expect(ended.ms).toBeLessThan(15_000);
      expect((await reports()).at(-1)!.output).toBe('started\n');
    });

    it('runs the command though nobody answers, and gives up in time', async () => {
      const ended = await wrapped('k'.repeat(32), ['sh', '-c', 'echo worked; exit 5'], {
        shell,
        env: { LANTERN_URL: `http://127.0.0.1:${await freePort()}`, LANTERN_PATIENCE: '1' },
      });
      expect(ended).toMatchObject({ code: 5, out: 'worked\n' });
      expect(ended.err).toContain('did not answer; the report was given up');
    });

    it('tries again until it is heard', async () => {
      const heard: string[] = [];
      let refusals = 3;
      const server = createServer((request, response) => {
        request.resume();
        request.on('end', () => {
          refusals -= 1;
          if (refusals >= 0) response.writeHead(503).end();
          else {
            heard.push(new URL(request.url!, 'http://x').searchParams.get('code') ?? 'begun');
            response.end('ok');
          }
        });
      });
      await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
      const { port } = server.address() as AddressInfo;
      const env = { LANTERN_URL: `http://127.0.0.1:${port}` };
      const ended = await wrapped('k'.repeat(32), ['sh', '-c', 'exit 9'], { shell, env });
      server.close();
      expect(ended.code).toBe(9);
      expect(heard).toEqual(['9']);
    });

    it('needs no more than wget, and leaves output alone where that is wished', async () => {
      const bare = join(folder, `bare-${shell.length}`);
      mkdirSync(bare, { recursive: true });
      for (const program of 'sh date env sleep mktemp mkfifo tee tail rm cat wget'.split(' ')) {
        const found = spawnSync('sh', ['-c', `command -v ${program}`], { encoding: 'utf8' }).stdout.trim();
        if (found.startsWith('/')) symlinkSync(found, join(bare, program));
      }
      const { key, reports } = await job();
      if (!readdirSync(bare).includes('wget')) {
        process.stderr.write('wget is not installed: busybox takes its place\n');
        symlinkSync(
          spawnSync('sh', ['-c', 'command -v busybox'], { encoding: 'utf8' }).stdout.trim(),
          join(bare, 'wget'),
        );
      }
      const program = shell[0] === 'busybox' ? ['/bin/busybox', 'sh'] : ['/bin/dash'];
      const env = { PATH: bare, LANTERN_OUTPUT: 'no' };
      const ended = await wrapped(key, ['sh', '-c', 'echo quiet'], { shell: program, env });
      expect(ended).toMatchObject({ code: 0, out: 'quiet\n', err: '' });
      expect((await reports()).at(-1)).toMatchObject({ is: 'done', code: 0, output: null });
    });
  });

  it('says how it is used, and when its key is not known', async () => {
    const unknown = await wrapped('z'.repeat(32), ['true']);
    expect(unknown).toMatchObject({ code: 0, err: expect.stringContaining('the report was not taken') });
    for (const [args, problem] of [
      [[], 'expected a key'],
      [['k'], 'expected -- after the key, got'],
      [['k', '--'], 'expected a command after --'],
    ] as const) {
      const ended = spawnSync('dash', [join(ROOT, 'tools/lantern-run'), ...args], { encoding: 'utf8' });
      expect(ended.status).toBe(64);
      expect(ended.stderr).toContain(problem);
    }
  });

  it('adds next to nothing to a job while it is heard', async () => {
    const { key, reports } = await job();
    const alone: number[] = [];
    const with_: number[] = [];
    for (let i = 0; i < 5; i += 1) {
      const started = performance.now();
      spawnSync('sh', ['-c', 'sleep 0.2']);
      alone.push(performance.now() - started);
      with_.push((await wrapped(key, ['sh', '-c', 'sleep 0.2'])).ms);
    }
    const median = (values: number[]) => values.sort((a, b) => a - b)[2]!;
    // A second is what is promised; it is compared with the bare command in the same run.
    expect(median(with_) - median(alone)).toBeLessThan(1000);
    await until(async () => (await reports()).length === 10, 'all ten reports');
  });
});
