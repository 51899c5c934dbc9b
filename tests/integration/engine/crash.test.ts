import { rmSync } from 'node:fs';
import { setTimeout } from 'node:timers/promises';
import { describe, expect, it } from 'vitest';
import { openStore } from '@/store/db/open';
import { tries } from '../../unit/tries';
import { ask, makeCheckin, startProduct, until, type MadeWatch, type Product } from '../helpers';

/** Of each process, so twelve in all. */
const KILLS = tries(6);
const JOBS = 60;
/** Between two reports of the eight that report: as fast as they can, they would leave nothing to what is killed. */
const BREAK_MS = 15;

describe('killed in the middle of check-ins', () => {
  /** Reports without a break for a while, often enough to be cut off in the middle; returns what was answered with 2xx. */
  function load(jobs: readonly MadeWatch[]): { stop: () => Promise<Set<string>> } {
    const answered = new Set<string>();
    let going = true;
    const worker = async (n: number) => {
      for (let i = 0; going; i += 1) {
        const run = `w${n}-${i}`;
        try {
          const { checkinAddress } = jobs[(n + i) % jobs.length]!;
          const response = await fetch(`${checkinAddress}?is=note&run=${run}`, {
            method: 'POST',
            body: 'x'.repeat(200),
          });
          if (response.ok) answered.add(run);
          await response.text();
          await setTimeout(BREAK_MS);
        } catch {
          await setTimeout(20);
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

  /** As many jobs as it takes for none to be slowed as a flood would be. */
  async function manyJobs(product: Product): Promise<MadeWatch[]> {
    const jobs: MadeWatch[] = [];
    for (let i = 0; i < JOBS; i += 1) jobs.push(await makeCheckin(product, { name: `Job ${i}` }));
    await ask(jobs[0]!.checkinAddress);
    return jobs;
  }

  const moment = () => setTimeout(50 + Math.random() * 500);

  async function expectKept(
    product: Product,
    jobs: readonly MadeWatch[],
    answered: Set<string>,
  ): Promise<void> {
    const db = await openStore(product.folder, { migrate: false });
    expect(await db.raw('PRAGMA integrity_check')).toEqual([{ integrity_check: 'ok' }]);
    const found = await db('reports')
      .whereIn(
        'watch_id',
        jobs.map((job) => job.id),
      )
      .whereNotNull('run')
      .pluck('run');
    await db.destroy();
    const kept = new Set(found);
    expect([...answered].filter((run) => !kept.has(run))).toEqual([]);
    expect(kept.size).toBe(found.length);
    expect(answered.size).toBeGreaterThan(100);
    expect((await product.api('GET', '/outages')).body).toEqual([]);
  }

  it('the engine loses no check-in and invents no outage', async () => {
    const product = await startProduct();
    const jobs = await manyJobs(product);
    const { id } = jobs[0]!;
    const under = load(jobs);
    for (let i = 0; i < KILLS; i += 1) {
      await moment();
      const pid = product.enginePid();
      process.kill(pid, 'SIGKILL');
      await until(() => product.enginePid() !== pid, 'a new engine');
    }
    const answered = await under.stop();
    await until(async () => (await ask(`${product.base}/readyz`)).status === 200, 'ready');
    await expectKept(product, jobs, answered);
    await until(
      async () => ((await product.api('GET', `/watches/${id}`)).body as MadeWatch).state === 'up',
      'still up',
    );
    await product.stop();
    rmSync(product.folder, { recursive: true });
  });

  it('the front door loses no check-in it answered and invents no outage', async () => {
    let product = await startProduct();
    const jobs = await manyJobs(product);
    const { id } = jobs[0]!;
    const under = load(jobs);
    for (let i = 0; i < KILLS; i += 1) {
      await moment();
      await product.kill();
      // It hears again long before it can be asked what it heard.
      product = await startProduct({ folder: product.folder, port: product.port, until: 'healthz' });
    }
    await until(async () => (await ask(`${product.base}/readyz`)).status === 200, 'ready');
    const answered = await under.stop();
    await expectKept(product, jobs, answered);
    expect(((await product.api('GET', `/watches/${id}`)).body as MadeWatch).state).toBe('up');
    await product.stop();
    rmSync(product.folder, { recursive: true });
  });

  it('both at once lose nothing either', async () => {
    const first = await startProduct();
    const jobs = await manyJobs(first);
    const under = load(jobs);
    await setTimeout(1000);
    process.kill(first.enginePid(), 'SIGKILL');
    await first.kill();
    const second = await startProduct({ folder: first.folder, port: first.port });
    const answered = await under.stop();
    await expectKept(second, jobs, answered);
    await second.stop();
    rmSync(first.folder, { recursive: true });
  });
});
