import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, describe, expect, it } from 'vitest';
import { PastReader } from '@/server/workers/past-reader';

const ASK = { since: 0, until: 1, zone: 'UTC', channels: [], tries: [] };

describe('going through the past', () => {
  const folder = mkdtempSync(join(tmpdir(), 'lantern-past-'));
  const script = (text: string) => {
    const file = join(folder, `${text.length}.mjs`);
    writeFileSync(file, `import { parentPort } from 'node:worker_threads';\n${text}`);
    return file;
  };
  let reader: PastReader;
  afterEach(() => reader.close());

  it('lets so many wait, and tells the next at once', async () => {
    reader = new PastReader(script("parentPort.on('message', () => undefined);"), folder);
    const waiting = Array.from({ length: 4 }, () => reader.tryRoutes(ASK));
    expect(await reader.tryRoutes(ASK)).toBeNull();
    let answered = 0;
    for (const one of waiting) void one.then(() => (answered += 1));
    expect(answered).toBe(0);
  });

  it('answers each ask by what it was about, and by nothing else', async () => {
    const answers = "'watch' in ask ? { watch: 'as it would be' } : { tried: ['said'] }";
    reader = new PastReader(
      script(`parentPort.on('message', (ask) => parentPort.postMessage(${answers}));`),
      folder,
    );
    expect(await reader.tryRoutes(ASK)).toEqual(['said']);
    expect(await reader.tryWatch({} as never)).toBe('as it would be');
    await reader.close();
    reader = new PastReader(
      script("parentPort.on('message', () => parentPort.postMessage({ tried: ['said'] }));"),
      folder,
    );
    expect(await reader.tryWatch({} as never)).toBeNull();
  });

  it('says what went wrong, and goes on', async () => {
    reader = new PastReader(
      script(
        "parentPort.on('message', ({ folder }) => parentPort.postMessage({ problem: `no ${folder}` }));",
      ),
      folder,
    );
    await expect(reader.tryRoutes(ASK)).rejects.toThrow(`no ${folder}`);
    await expect(reader.tryRoutes(ASK)).rejects.toThrow(`no ${folder}`);
    rmSync(folder, { recursive: true });
  });
});
