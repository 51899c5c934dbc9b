import { beforeAll, describe, expect, it } from 'vitest';
import { openStore } from '@/store/db/open';
import { AnsweringRoom } from '../../unit/channels/answering';
import { ask, until } from '../helpers';
import { HAS_PAGES, withEither, type Within } from '../within';

interface Report {
  id: number;
  endedAt: string | null;
  deliveries: { title: string; channel: string; state: string; tookSeconds: number | null; why: string }[];
  taken: { watch: string; by: string }[];
}

describe('a drill', () => {
  let product: Within;
  const room = new AnsweringRoom();
  withEither((started) => (product = started));
  const api = (method: string, path: string, body?: unknown) => product.api(method, path, body);
  const texts = () => room.asked.map(({ body }) => (JSON.parse(body) as { text: string }).text);
  const report = async (id: number) => (await api('GET', `/drills/${id}`)).body as Report;
  let kiosk: number;
  let id: number;

  beforeAll(async () => {
    await room.start();
    await api('POST', '/channels', { kind: 'webhook', name: 'Crew room', settings: { address: room.base } });
    const schedule = { type: 'period', everySeconds: 86_400 };
    const made = await api('POST', '/watches', { kind: 'checkin', name: 'Kiosk', schedule });
    kiosk = (made.body as { id: number }).id;
    return () => room.stop();
  });

  it('shows who would be told what and when, and sends nothing', async () => {
    const { body } = await api('POST', '/drill-plans', { watchIds: [kiosk], minutes: 3 });
    expect(body).toEqual({
      says: [
        expect.objectContaining({ afterSeconds: 0, channel: 'Crew room', title: 'Drill: Kiosk is down' }),
        expect.objectContaining({
          afterSeconds: 180,
          channel: 'Crew room',
          title: 'Drill: Kiosk is up again',
        }),
      ],
      notes: [],
    });
    expect((await api('GET', '/drills')).body).toEqual([]);
    expect(texts()).toEqual([]);
  });

  it('is sent through everything, and tells what arrived where and how fast', async () => {
    const begun = await api('POST', '/drills', { watchIds: [kiosk, kiosk], minutes: 60 });
    expect(begun.status).toBe(201);
    ({ id } = begun.body as Report);
    await until(async () => (await report(id)).deliveries[0]?.state === 'delivered', 'delivered');
    const { deliveries, endedAt } = await report(id);
    expect(endedAt).toBeNull();
    expect(deliveries).toEqual([
      expect.objectContaining({
        title: 'Drill: Kiosk is down',
        channel: 'Crew room',
        why: 'it is its turn on the route',
        tookSeconds: expect.any(Number) as number,
      }),
    ]);
    expect(texts()[0]).toContain('This is a rehearsal: nothing of it is real.');
  });

  it('is taken by the link in its message, and not what is real', async () => {
    const link = /https?:\/\/\S+\/take\/(\S+)/.exec(texts()[0]!)!;
    if (HAS_PAGES) {
      const page = await ask(`${product.base}/take/${link[1]}`);
      expect(page.text).toContain('A drill: Kiosk is said to be down.');
    }
    const taken = await fetch(`${product.base}/api/take`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', origin: product.base },
      body: JSON.stringify({ token: link[1], by: 'Ines' }),
    });
    expect(taken.ok).toBe(true);
    await until(async () => (await report(id)).taken.length === 1, 'taken');
    expect((await report(id)).taken).toEqual([expect.objectContaining({ watch: 'Kiosk', by: 'Ines' })]);
    expect((await api('GET', `/watches/${kiosk}/conversation`)).body).toMatchObject({
      open: false,
      taken: null,
    });
  });

  it('touches no state, no figures and no outage', async () => {
    expect((await api('GET', `/watches/${kiosk}`)).body).toMatchObject({ state: 'waiting' });
    expect((await api('GET', '/outages')).body).toEqual([]);
  });

  it('is ended by hand, once', async () => {
    expect((await api('POST', `/drills/${id}/end`, {})).status).toBe(200);
    await until(() => texts().some((text) => text.includes('Drill: Kiosk is up again')), 'over');
    expect((await report(id)).endedAt).not.toBeNull();
    const again = await api('POST', `/drills/${id}/end`, {});
    expect([again.status, (again.body as { code: string }).code]).toEqual([409, 'drill.over']);
  });

  it('ends by itself when its time is over', async () => {
    const begun = (await api('POST', '/drills', { watchIds: [kiosk], minutes: 1 })).body as Report;
    // A minute is long: its end is put where it will be.
    const db = await openStore(product.folder, { migrate: false });
    await db('drills').where({ id: begun.id }).update({ until: Date.now() });
    await db.destroy();
    await until(async () => (await report(begun.id)).endedAt !== null, 'over');
    await until(async () => (await report(begun.id)).deliveries.length === 2, 'both are said');
    expect((await report(begun.id)).deliveries.map(({ title }) => title)).toEqual([
      'Drill: Kiosk is down',
      'Drill: Kiosk is up again',
    ]);
  });

  it.each([
    [{ watchIds: [] }, 'watchIds', 'at least one watch'],
    [{ watchIds: [999] }, 'watchIds', 'Expected watches that are looked after, got 999.'],
    [{ watchIds: [1], happening: 'fire' }, 'happening', 'Expected happening to be one of'],
    [{ watchIds: [1], minutes: 0 }, 'minutes', 'from 1 to 240'],
  ])('is refused where it is none: %j', async (body, field, message) => {
    for (const path of ['/drills', '/drill-plans']) {
      const answer = await api('POST', path, body);
      expect(answer.status).toBe(422);
      const [error] = (answer.body as { errors: { field: string; message: string }[] }).errors;
      expect(error!.field).toBe(field);
      expect(error!.message).toContain(message);
    }
  });
});
