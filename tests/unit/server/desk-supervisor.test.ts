import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { DoorHandlers } from '@/server/desk/protocol';
import { DeskSupervisor, type DeskOptions } from '@/server/desk/supervisor';
import { isAlive, until } from '../../integration/helpers';

/** Says that it is open, answers pings by what stands in `how.json`, and notes what it was told. */
const FAKE = `
const { appendFileSync, readFileSync } = require('node:fs');
const { join } = require('node:path');
const note = (line) => appendFileSync(join(__dirname, 'told.txt'), process.pid + ' ' + JSON.stringify(line) + '\\n');
const how = () => JSON.parse(readFileSync(join(__dirname, 'how.json'), 'utf8'));
process.once('disconnect', () => process.exit(0));
process.on('message', (line) => {
  if (line.type === 'begin') {
    if (how().dies) process.exit(7);
    note({ limit: require('node:v8').getHeapStatistics().heap_size_limit });
    process.send({ type: 'open' });
    process.send({ type: 'ask', id: 1, call: 'keepPreview', ask: { rights: new Set(['look']) } });
    process.send({ type: 'ask', id: 2, call: 'mail', ask: null });
  } else if (line.type === 'ping') process.send({ type: 'pong', memoryMb: how().memoryMb });
  else {
    note(line);
    if (line.type === 'stop') setTimeout(() => process.exit(0), 100);
  }
});
`;

let folder: string;
let supervisor: DeskSupervisor;
let said: string[];

function begin(how: object, rest: Partial<DeskOptions> = {}): void {
  writeFileSync(join(folder, 'how.json'), JSON.stringify(how));
  supervisor = new DeskSupervisor({
    ...{ script: join(folder, 'desk.js'), dataFolder: folder, heapMb: 300, firstCode: 'tern' },
    handlers: {
      keepPreview: ({ rights }: { rights: Set<string> }) => `kept ${[...rights].join()}`,
      mail: () => Promise.reject(new Error('No mail today.')),
    } as unknown as DoorHandlers,
    say: (text) => said.push(text),
    ...rest,
  });
  supervisor.start();
}

const told = () =>
  readFileSync(join(folder, 'told.txt'), 'utf8')
    .trim()
    .split('\n')
    .map((line) => ({
      pid: Number(line.split(' ', 1)[0]),
      line: JSON.parse(line.slice(line.indexOf(' '))) as object,
    }));

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'lantern-desk-'));
  writeFileSync(join(folder, 'desk.js'), FAKE);
  writeFileSync(join(folder, 'told.txt'), '');
  said = [];
});
afterEach(async () => {
  await supervisor.stop();
  rmSync(folder, { recursive: true });
});

describe('whoever looks after the desk', () => {
  it('begins it with bounded memory, and does for it what it asks', async () => {
    begin({ memoryMb: 100 });
    expect([supervisor.isFirst, supervisor.socket]).toEqual([true, null]);
    await supervisor.opened(20_000);
    expect(supervisor.isFirst).toBe(false);
    expect(supervisor.socket).toBe(join(folder, 'desk-1.sock'));
    await until(() => told().length === 4 || told().length === 3, 'told');
    const [first, ...answers] = told();
    const { limit } = first!.line as { limit: number };
    // With what V8 keeps beside the old generation.
    expect(limit / 1024 / 1024).toBeGreaterThan(299);
    expect(limit / 1024 / 1024).toBeLessThan(420);
    expect(answers.map(({ line }) => line)).toEqual([
      { type: 'answer', id: 1, answer: 'kept look' },
      { type: 'problem', id: 2, problem: 'No mail today.' },
    ]);
    await supervisor.stop();
    expect(isAlive(first!.pid)).toBe(false);
    expect(told().at(-1)!.line).toEqual({ type: 'stop' });
  });

  it('lets another take over from one that takes too much, before that ends', async () => {
    begin({ memoryMb: 3000 });
    await supervisor.opened(20_000);
    const [first] = told();
    await until(() => said.some((text) => text.includes('the desk takes 3000 MB')), 'too large');
    writeFileSync(join(folder, 'how.json'), JSON.stringify({ memoryMb: 100 }));
    await until(() => {
      // All the while somebody is there.
      expect(supervisor.socket).not.toBe(null);
      return supervisor.socket?.endsWith('desk-0.sock');
    }, 'another is there');
    await until(() => !isAlive(first!.pid), 'the first has ended');
    expect(
      told().filter(({ pid, line }) => pid === first!.pid && 'type' in line && line.type === 'stop'),
    ).toHaveLength(1);
  });

  it('replaces one that is frozen, and leaves it out before', async () => {
    begin({ memoryMb: 100 }, { silentAfterMs: 1_500, frozenAfterMs: 4_000 });
    await supervisor.opened(20_000);
    const { pid } = told()[0]!;
    process.kill(pid, 'SIGSTOP');
    await until(() => supervisor.socket === null, 'left out');
    expect(isAlive(pid)).toBe(true);
    await supervisor.opened(20_000);
    expect(isAlive(pid)).toBe(false);
    expect(said).toEqual([
      'the desk has not answered for 4 s; replacing it',
      'the desk is gone (SIGKILL); starting it again',
    ]);
  });

  it('tries again, less and less often, where it ends at once', async () => {
    begin({ dies: true });
    expect(supervisor.isFailing).toBe(false);
    await until(() => said.length >= 3, 'tried');
    expect(supervisor.isFailing).toBe(said.length >= 4);
    await until(() => said.length >= 4, 'tried');
    // It does not stay up, and is not said to before that has been so for a while.
    expect(supervisor.isFailing).toBe(true);
    expect(new Set(said)).toEqual(new Set(['the desk is gone (7); starting it again']));
    writeFileSync(join(folder, 'how.json'), JSON.stringify({ memoryMb: 100 }));
    await supervisor.opened(20_000);
    expect(supervisor.socket).not.toBe(null);
    expect(supervisor.isFailing).toBe(true);
  });

  it('ends one that was left behind by a front door that was killed', async () => {
    begin({ memoryMb: 100 });
    await supervisor.opened(20_000);
    const { pid } = told()[0]!;
    writeFileSync(join(folder, 'desk.pid'), String(pid));
    const second = new DeskSupervisor({
      ...{ script: join(folder, 'desk.js'), dataFolder: folder, heapMb: 300, firstCode: 'tern' },
      handlers: {} as DoorHandlers,
      say: () => undefined,
    });
    second.start();
    await until(() => !isAlive(pid), 'ended');
    await second.stop();
  });
});
