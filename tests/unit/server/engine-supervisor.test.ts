import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
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
