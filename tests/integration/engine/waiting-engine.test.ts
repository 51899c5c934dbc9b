import { spawnSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { WaitingEngine } from '@/server/waiting-engine';
import { isAlive, ROOT, tempFolder, until } from '../helpers';

describe('an engine that is begun early', () => {
  let folder: string;
  const script = () => join(folder, 'engine.mjs');
  const told = () => {
    try {
      return readFileSync(join(folder, 'told'), 'utf8').trim().split('\n');
    } catch {
      return [];
    }
  };

  beforeEach(() => {
    folder = tempFolder();
    // Waits as the engine does, and writes down what it is told.
    writeFileSync(
      script(),
      `import { appendFileSync } from 'node:fs';
       const waits = process.argv.includes('--waits');
       const say = (words) => appendFileSync(${JSON.stringify(join(folder, 'told'))}, process.pid + ' ' + words + '\\n');
       const work = () => { say('works'); setInterval(() => undefined, 1000); };
       say(waits ? 'waits' : 'does not wait');
       if (!waits) work();
       else { const end = () => process.exit(0);
         process.once('disconnect', end);
         process.once('message', () => {
           process.off('disconnect', end);
           setImmediate(() => process.disconnect());
           work();
         }); }`,
    );
  });
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  it('goes on when it is needed, and the next one does not wait', async () => {
    const waiting = new WaitingEngine(script());
    await until(() => told().length === 1, 'it waits');
    const first = waiting.start();
    await until(() => told().length === 2, 'it works');
    const second = waiting.start();
    await until(() => told().length === 4, 'the other one works');
    expect(told()).toEqual([
      `${first.pid} waits`,
      `${first.pid} works`,
      `${second.pid} does not wait`,
      `${second.pid} works`,
    ]);
    await until(() => !first.connected, 'nothing ties it to whoever began it any more');
    for (const child of [first, second]) child.kill('SIGKILL');
  });

  it('ends where nobody needs it, and another is started where it is gone', async () => {
    const waiting = new WaitingEngine(script());
    await until(() => told().length === 1, 'it waits');
    const pid = Number(told()[0]!.split(' ')[0]);
    waiting.discard();
    await until(() => !isAlive(pid), 'it ended');
    const other = waiting.start();
    await until(() => told().length === 3, 'another works');
    expect(told()[1]).toBe(`${other.pid} does not wait`);
    other.kill('SIGKILL');
  });

  it('ends with whoever began it: a front door that cannot open leaves none behind', async () => {
    const data = join(folder, 'data');
    mkdirSync(data);
    const env = { ...process.env, LANTERN_DATA: data, PORT: 'none' };
    const ended = spawnSync(process.execPath, [join(ROOT, 'dist/server.js')], { env, timeout: 20_000 });
    expect(ended.status).toBe(1);
    await until(() => enginesOf(data).length === 0, 'no engine is left');
  });
});

/** The processes that run with a data folder. */
function enginesOf(data: string): string[] {
  return readdirSync('/proc').filter((pid) => {
    try {
      return (
        /^\d+$/.test(pid) && readFileSync(`/proc/${pid}/environ`, 'utf8').includes(`LANTERN_DATA=${data}\0`)
      );
    } catch {
      return false;
    }
  });
}
