import { rmSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { openStore } from '../../src/store/connection';
import { ask, makeCheckin, startProduct, until, type MadeWatch, type Product } from './helpers';

describe('killed in the middle of check-ins', () => {
  /** Reports as fast as it can for a while; returns the runs that were answered with 2xx. */
  function load(address: string): { stop: () => Promise<Set<string>> } {
    const answered = new Set<string>();
    let going = true;
    const worker = async (n: number) => {
      for (let i = 0; going; i += 1) {
        const run = `w${n}-${i}`;
        try {
          const response = await fetch(`${address}?is=note&run=${run}`, {
            method: 'POST',
            body: 'x'.repeat(200),
          });
          if (response.ok) answered.add(run);
          await response.text();
        } catch {
          await new Promise((resolve) => setTimeout(resolve, 20));
        }
      }
    };
    const workers = Array.from({ length: 8 }, (_, n) => worker(n));
    return {
      stop: async () => {
        going = false;
        await Promise.all(workers);
        return answered;
      },
    };
  }

  async function expectKept(product: Product, id: number, answered: Set<string>): Promise<void> {
    const db = await openStore(product.folder, { migrate: false });
    expect(await db.raw('PRAGMA integrity_check')).toEqual([{ integrity_check: 'ok' }]);
    const kept = await db('reports').where({ watch_id: id }).pluck('run');
    await db.destroy();
    const missing = [...answered].filter((run) => !kept.includes(run));
    expect(missing).toEqual([]);
    expect(new Set(kept).size).toBe(kept.length);
    expect(answered.size).toBeGreaterThan(100);
    expect((await product.api('GET', '/outages')).body).toEqual([]);
  }

  it('the engine loses no check-in and invents no outage', async () => {
    const product = await startProduct();
    const { checkinAddress, id } = await makeCheckin(product);
    await ask(checkinAddress);
    const under = load(checkinAddress);
    for (let i = 0; i < 3; i += 1) {
      await new Promise((resolve) => setTimeout(resolve, 400));
      const pid = product.enginePid();
      process.kill(pid, 'SIGKILL');
      await until(() => product.enginePid() !== pid, 'a new engine');
    }
    const answered = await under.stop();
    await until(async () => (await ask(`${product.base}/readyz`)).status === 200, 'ready');
    await expectKept(product, id, answered);
    await until(
      async () => ((await product.api('GET', `/watches/${id}`)).body as MadeWatch).state === 'up',
      'still up',
    );
    await product.stop();
    rmSync(product.folder, { recursive: true });
  });

  it('the front door loses no check-in it answered and invents no outage', async () => {
    let product = await startProduct();
    const { checkinAddress, id } = await makeCheckin(product);
    await ask(checkinAddress);
    const under = load(checkinAddress);
    for (let i = 0; i < 2; i += 1) {
      await new Promise((resolve) => setTimeout(resolve, 500));
      await product.kill();
      product = await startProduct({ folder: product.folder, port: product.port });
    }
    await new Promise((resolve) => setTimeout(resolve, 300));
    const answered = await under.stop();
    await expectKept(product, id, answered);
    expect(((await product.api('GET', `/watches/${id}`)).body as MadeWatch).state).toBe('up');
    await product.stop();
    rmSync(product.folder, { recursive: true });
  });

  it('both at once lose nothing either', async () => {
    const first = await startProduct();
    const { checkinAddress, id } = await makeCheckin(first);
    const under = load(checkinAddress);
    await new Promise((resolve) => setTimeout(resolve, 500));
    process.kill(first.enginePid(), 'SIGKILL');
    await first.kill();
    const second = await startProduct({ folder: first.folder, port: first.port });
    const answered = await under.stop();
    await expectKept(second, id, answered);
    await second.stop();
    rmSync(first.folder, { recursive: true });
  });
});
