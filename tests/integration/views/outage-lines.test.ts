import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { saveNewChannel } from '@/store/messages/channels';
import { saveNewIncident } from '@/store/pages/incidents';
import { saveNewPage } from '@/store/pages/pages';
import { fetchOutageLines, type OutageLine } from '@/views/outages/outage-lines';
import { makeWatch, tempStore, webConfig, type TempStore } from '../helpers';
import { incidentFacts, pageContent } from '../pages';
import { NOW, troubled } from './troubled';

const MINUTE = 60_000;

describe('outages in rows', () => {
  let store: TempStore;
  let [mast, camera, past] = [0, 0, 0];

  beforeAll(async () => {
    store = await tempStore();
    const { db } = store;
    const { outage, said, take } = troubled(db);
    mast = await makeWatch(db, webConfig('http://mast.test/'), { name: 'Mast' });
    camera = await makeWatch(db, webConfig('http://camera.test/'), { name: 'Camera' });
    past = await outage(mast, 90, { ended: 80 });
    // What it follows from has no outage among these.
    const tide = await makeWatch(db, webConfig('http://tide.test/'), { name: 'Tide gauge' });
    const winch = await makeWatch(db, webConfig('http://winch.test/'), { name: 'Winch' });
    await outage(winch, 200, { ended: 190, follows: tide });
    const open = await outage(mast, 40);
    const following = await outage(camera, 39, { follows: mast });
    await outage(camera, 60, { follows: 9_999, ended: 50 });
    const channel = { kind: 'desk', settings: {}, enabled: true, createdAt: NOW };
    const [office, crew] = [
      await saveNewChannel(db, { ...channel, name: 'Office' }),
      await saveNewChannel(db, { ...channel, name: 'Crew' }),
    ];
    await said(open, office, 'delivered');
    await said(open, crew, 'delivered');
    await said(following, crew, 'waiting');
    await take(mast, 'ines@ternferry.test');
    await take(camera, 'jonas@ternferry.test', false);
    const pageId = await saveNewPage(db, pageContent([]));
    await saveNewIncident(db, incidentFacts(pageId, 'The mast is down', NOW, { outageId: open }));
  });
  afterAll(() => store.close());

  const read = (): Promise<OutageLine[]> => fetchOutageLines(store.db, {}, { limit: 10 });

  it('come the newest first, each with its watch, its times and what broke', async () => {
    const lines = await read();
    expect(
      lines.map(({ watch, began, noticed, ended }) => [
        watch,
        (NOW - began) / MINUTE,
        noticed === began,
        ended,
      ]),
    ).toEqual([
      ['Camera', 39, true, null],
      ['Mast', 40, true, null],
      ['Camera', 60, true, NOW - 50 * MINUTE],
      ['Mast', 90, true, NOW - 80 * MINUTE],
      ['Winch', 200, true, NOW - 190 * MINUTE],
    ]);
    expect(new Set(lines.map(({ sentence }) => sentence))).toEqual(
      new Set(['The host is there, but nothing listens on port 80.']),
    );
    expect(lines.at(-2)).toMatchObject({ id: past, watchId: mast });
  });

  it('say who was told, who has it while it lasts, what it follows from, and what the public was told', async () => {
    const lines = await read();
    expect(lines.map(({ told }) => told)).toEqual([[], ['Crew', 'Office'], [], [], []]);
    expect(lines.map(({ takenBy }) => takenBy)).toEqual([null, 'ines@ternferry.test', null, null, null]);
    expect(lines.map(({ follows }) => follows)).toEqual([
      { id: mast, name: 'Mast' },
      null,
      { id: 9_999, name: '' },
      null,
      { id: expect.any(Number) as number, name: 'Tide gauge' },
    ]);
    expect(lines.map(({ incident }) => incident?.title ?? null)).toEqual([
      null,
      'The mast is down',
      null,
      null,
      null,
    ]);
  });

  it('are those of one watch, those that last, or those that are over', async () => {
    const began = async (filter: object) =>
      (await fetchOutageLines(store.db, filter, { limit: 10 })).map((one) => (NOW - one.began) / MINUTE);
    expect(await began({ watchId: mast })).toEqual([40, 90]);
    expect(await began({ open: true })).toEqual([39, 40]);
    expect(await began({ open: false, watchId: camera })).toEqual([60]);
  });
});
