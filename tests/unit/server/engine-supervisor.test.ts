import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { makeEngineSocket } from '@/engine/link/protocol';
import { EngineSupervisor } from '@/server/engine-supervisor';

/** Listens where an engine does, answers whatever it is asked, and ends when it is told to. */
const LISTENS = `
  require('node:net').createServer((socket) => socket.on('data', (text) => {
    for (const line of String(text).trim().split('\\n')) {
      const { id, call } = JSON.parse(line);
      socket.write(JSON.stringify({ id, answer: {} }) + '\\n', () => call === 'stop' && process.exit(0));
    }
  })).listen(process.argv[1]);`;
const HANGS = 'setInterval(() => undefined, 1000);';

it('that hangs before it listens is replaced, and each next is given twice as long', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'lantern-test-'));
  const socket = makeEngineSocket(folder);
  const begun: ChildProcess[] = [];
  const said: string[] = [];
  const supervisor = new EngineSupervisor({
    waiting: {
      start: () => {
        const child = spawn(process.execPath, ['-e', begun.length < 2 ? HANGS : LISTENS, socket]);
        begun.push(child);
        return child;
      },
      discard: () => undefined,
    },
    dataFolder: folder,
    onNews: () => undefined,
    say: (text) => said.push(text),
    openingMs: 900,
  });
  await supervisor.start();
  expect(said).toEqual([
    'the engine does not open after 1 s; replacing it',
    'the engine does not open after 2 s; replacing it',
  ]);
  expect(begun.map(({ signalCode }) => signalCode)).toEqual(['SIGKILL', 'SIGKILL', null]);
  expect(await supervisor.isAnswering(5000)).toBe(true);
  await supervisor.stop();
  expect(begun[2]!.exitCode).toBe(0);
  rmSync(folder, { recursive: true, force: true });
});

it('is told of reports at once; what comes soon after gathers, and none of it is left untold', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'lantern-test-'));
  const told: number[] = [];
  const engine = createServer((socket) =>
    socket.on('data', (text) => {
      for (const line of text.toString().trim().split('\n')) {
        const { id, call } = JSON.parse(line) as { id: number; call: string };
        if (call === 'inbox') told.push(performance.now());
        socket.write(`${JSON.stringify({ id, answer: {} })}\n`, () => call === 'stop' && socket.destroy());
      }
    }),
  );
  await new Promise<void>((resolve) => engine.listen(makeEngineSocket(folder), resolve));
  const supervisor = new EngineSupervisor({
    waiting: { start: () => expect.unreachable('there is one already'), discard: () => undefined },
    ...{ dataFolder: folder, onNews: () => undefined, say: () => undefined },
  });
  await supervisor.start();
  const began = performance.now();
  while (told.length < 5) {
    void supervisor.tellInbox();
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
  expect(told.at(-1)! - began).toBeGreaterThanOrEqual(4 * 100 - 10);
  // One that comes just behind a telling.
  void supervisor.tellInbox();
  const last = performance.now();
  await expect.poll(() => told.at(-1)).toBeGreaterThanOrEqual(last);
  await supervisor.stop();
  engine.close();
  rmSync(folder, { recursive: true, force: true });
});
