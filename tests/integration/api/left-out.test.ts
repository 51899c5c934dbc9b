import { describe, expect, it } from 'vitest';
import { ask, makeCheckin, until } from '../helpers';
import { withinProcess, type Within } from '../within';

interface Outage {
  id: number;
  leftOut: string | null;
}

describe('an outage that does not count', () => {
  let product: Within;
  withinProcess((one) => (product = one));

  const figures = async (id: number) =>
    (await product.api('GET', `/watches/${id}/figures`)).body as {
      uptime: number | null;
      leftOut: number;
      outages: { count: number };
    };

  it('is left out of the figures for a reason that is kept, and taken back', async () => {
    const watch = await makeCheckin(product);
    await ask(watch.checkinAddress, { method: 'POST' });
    await ask(`${watch.checkinAddress}?is=failed`);
    const [outage] = await until(async () => {
      const found = (await product.api('GET', `/watches/${watch.id}/outages`)).body as Outage[];
      return found.length > 0 ? found : null;
    }, 'an outage');
    expect(outage!.leftOut).toBe(null);
    await until(async () => ((await figures(watch.id)).outages.count === 1 ? true : null), 'it counts');
    const path = `/outages/${outage!.id}`;
    const refused = await product.api('POST', `${path}/leave-out`, { reason: ' ' });
    expect([refused.status, (refused.body as { errors: { message: string }[] }).errors[0]!.message]).toEqual([
      422,
      'Expected the reason, got nothing.',
    ]);
    const left = await product.api('POST', `${path}/leave-out`, { reason: 'a storm' });
    expect(left).toMatchObject({ status: 200, body: { leftOut: 'a storm' } });
    expect(await figures(watch.id)).toMatchObject({ leftOut: 1, outages: { count: 0 } });
    expect((await product.api('GET', path)).body).toMatchObject({ leftOut: 'a storm' });
    expect((await product.api('POST', `${path}/count`)).body).toMatchObject({ leftOut: null });
    expect(await figures(watch.id)).toMatchObject({ leftOut: 0, outages: { count: 1 } });
    expect((await product.api('POST', '/outages/99999/leave-out', { reason: 'none' })).status).toBe(404);
    const deeds = JSON.stringify((await product.api('GET', '/deeds?limit=20')).body);
    for (const deed of ['leaveOutageOut', 'countOutage']) expect(deeds).toContain(deed);
  });
});
