import { beforeAll, describe, expect, it } from 'vitest';
import { openStore } from '@/store/db/open';
import { VERDICTS } from '@/store/history/recorder';
import { freePort } from '../helpers';
import { withinProcess, type Within } from '../within';

const MIN = 60_000;
const DAY = 24 * 60 * MIN;

interface Trial {
  from: string;
  now: { outages: number; slow: number };
  then: { outages: number; slow: number };
  changed: { beganAt: string; noticedAt: string; thenNoticedAt: string | null }[];
  added: { beganAt: string }[];
}

describe('settings of a watch that are tried on its past', () => {
  let product: Within;
  let site: number;
  let backup: number;
  /** Beginning of the hour ten days ago. */
  const t0 = Math.floor((Date.now() - 10 * DAY) / (60 * MIN)) * 60 * MIN;
  withinProcess((started) => (product = started));
  const tried = async (id: number, body: object, status = 200) => {
    const answer = await product.api('POST', `/watches/${id}/past-trials`, body);
    expect(answer.status).toBe(status);
    return answer.body as Trial;
  };

  beforeAll(async () => {
    const make = async (body: object) =>
      ((await product.api('POST', '/watches', body)).body as { id: number }).id;
    const settings = { host: '127.0.0.1', port: await freePort() };
    const timing = { everySeconds: 300, secondLooks: 0, secondLookGapSeconds: 30 };
    site = await make({ kind: 'port', name: 'Slipway', settings, ...timing });
    const schedule = { type: 'period', everySeconds: 3600 };
    backup = await make({ kind: 'checkin', name: 'Backup', schedule, leewaySeconds: 600 });
    const db = await openStore(product.folder, { migrate: false });
    await db('watches').update({ created_at: t0 - DAY });
    await db('findings').where({ watch_id: site }).delete();
    // Two days of looks, with one that failed alone, and one outage of an hour.
    const looks = Array.from({ length: 576 }, (_, n) => {
      const isDown = n === 100 || (n >= 200 && n < 212);
      return {
        watch_id: site,
        at: t0 + n * 5 * MIN,
        verdict: VERDICTS.indexOf(isDown ? 'failed' : 'fine'),
        us: n === 300 ? 9_000_000 : 20_000,
        cause: isDown ? 'port.refused' : null,
        detail: null,
        value: null,
      };
    });
    await db.batchInsert('findings', looks as never, 50);
    const reports = [0, 60, 135, 195].map((minutes) => ({
      watch_id: backup,
      at: t0 + minutes * MIN,
      kind: 'done',
      method: 'POST',
      address: '192.0.2.7',
    }));
    await db.batchInsert('reports', reports as never);
    // Nobody looked after it from then on.
    for (const id of [site, backup])
      await db('stretches').insert({ watch_id: id, kind: 'paused', began: t0 + 2 * DAY, ended: null });
    await db.destroy();
  });

  it('says which alarms there would not have been, and how much later the others', async () => {
    const trial = await tried(site, { secondLooks: 12 });
    expect(trial.now).toEqual({ outages: 2, slow: 0 });
    expect(trial.then).toEqual({ outages: 1, slow: 0 });
    const at = (n: number, more = 0) => new Date(t0 + n * 5 * MIN + more).toISOString();
    expect(trial.changed).toMatchObject([
      { beganAt: at(100), thenNoticedAt: null },
      { beganAt: at(200), noticedAt: at(200), thenNoticedAt: at(200, 6 * MIN) },
    ]);
    expect(trial.added).toEqual([]);
    expect(trial.from).toBe(at(0));
  });

  it('says which there would have been besides with less time to answer, and how often it was slow', async () => {
    const trial = await tried(site, { timeoutSeconds: 5 });
    expect(trial.then.outages).toBe(3);
    expect(trial.added).toMatchObject([{ beganAt: new Date(t0 + 300 * 5 * MIN).toISOString() }]);
    expect((await tried(site, { slowAfterMs: 1000, slowLooks: 1 })).then.slow).toBe(1);
  });

  it('tries the leeway of a job', async () => {
    expect((await tried(backup, {})).now.outages).toBe(2);
    expect((await tried(backup, { leewaySeconds: 1200 })).then.outages).toBe(1);
  });

  it('changes nothing, and is refused what could not be saved', async () => {
    const { body } = await product.api('GET', `/watches/${site}`);
    expect(body).toMatchObject({ secondLooks: 0 });
    expect(await tried(site, { secondLooks: -1 }, 422)).toMatchObject({ code: 'input.invalid' });
    expect(await tried(9999, {}, 404)).toMatchObject({ code: 'not.found' });
  });
});
