import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { HOUSE, tellByItself } from '@/cases/pages/tell-by-itself';
import { addIncidentUpdate } from '@/cases/pages/incidents';
import type { World } from '@/cases/frame/world';
import { fillPublicText, valuesOf } from '@/core/pages/public-text';
import { MINUTE_MS } from '@/core/time/units';
import { fetchIncidents, saveNewIncident } from '@/store/pages/incidents';
import { saveNewPage } from '@/store/pages/pages';
import { saveNewPublicText, saveSelfTelling } from '@/store/pages/public-texts';
import { saveNewFollower } from '@/store/followers/followers';
import { incidentFacts, line, pageContent, mailFollower } from '../pages';
import { testWorld } from '../../unit/test-world';
import { makeWatch, tempStore, webConfig, type TempStore } from '../helpers';

const T0 = Date.parse('2026-11-27T08:00:00Z');
const OUT = {
  name: 'Out',
  title: '{{ service }} is out',
  body: '{{ service }} has been out since {{ since }}.',
  over: '{{ service }} was out for {{ length }}, until {{ ended }}.',
};

describe('a section that tells the public by itself', () => {
  let store: TempStore;
  let now: number;
  let world: World;
  let pageId: number;
  let sectionId: number;
  let kiosk: number;
  let camera: number;
  let elsewhere: number;

  beforeEach(async () => {
    store = await tempStore();
    now = T0;
    const make = (name: string, section: string) =>
      makeWatch(store.db, webConfig(`http://${name.toLowerCase()}.test/`), { name, section, createdAt: T0 });
    kiosk = await make('Kiosk', 'Water');
    camera = await make('Camera', 'Water');
    elsewhere = await make('Boiler', 'House');
    sectionId = (await store.db('sections').where({ name: 'Water' }).first())!.id;
    pageId = await saveNewPage(
      store.db,
      pageContent([line(kiosk, 'Ticket kiosk'), line(camera, 'Harbour camera'), line(elsewhere, 'Heating')]),
    );
    const textId = await saveNewPublicText(store.db, OUT);
    await saveSelfTelling(store.db, sectionId, { textId, afterMinutes: 15, pageIds: [pageId] });
    world = testWorld({ db: store.db, now: () => now });
  });
  afterEach(() => store.close());

  const down = (watchId: number, began: number) =>
    store.db('outages').insert({
      watch_id: watchId,
      began,
      noticed: began,
      cause: 'port.refused',
      causes: '[]',
      detail: '{}',
    });
  const up = (watchId: number, ended: number) =>
    store.db('outages').where({ watch_id: watchId }).update({ ended });
  const look = (minutes: number) => {
    now = T0 + minutes * MINUTE_MS;
    return tellByItself(HOUSE, {}, world);
  };
  const incidents = () => fetchIncidents(store.db, {}, { limit: 10 });

  it('tells what has been out for as long as was set, once, and closes it when it is over', async () => {
    await down(kiosk, T0);
    await look(14.9);
    expect(await incidents()).toEqual([]);
    await look(15);
    await look(16);
    const [told, ...more] = await incidents();
    expect(more).toEqual([]);
    expect(told).toMatchObject({
      ...{ title: 'Ticket kiosk is out', began: T0, ended: null, pageIds: [pageId] },
      affected: [{ watchId: kiosk, how: 'out' }],
      updates: [{ stage: 'looking', body: 'Ticket kiosk has been out since Fri 27 Nov, 08:00.' }],
    });
    await up(kiosk, T0 + 20 * MINUTE_MS);
    await look(21);
    await look(22);
    expect(await incidents()).toMatchObject([
      {
        ended: T0 + 20 * MINUTE_MS,
        updates: [{ stage: 'over', body: 'Ticket kiosk was out for 20 min, until Fri 27 Nov, 08:20.' }, {}],
      },
    ]);
    expect((await store.db('deeds').pluck('by_name')) as string[]).toEqual([
      'a section by itself',
      'a section by itself',
    ]);
  });

  it('tells those who follow, as everything else is told', async () => {
    await saveNewFollower(store.db, mailFollower(pageId, T0));
    await down(kiosk, T0);
    await look(15);
    expect(await store.db('letters').pluck('key')).toHaveLength(1);
  });

  it('names all that is out by then, and adds what goes out after it', async () => {
    await down(kiosk, T0);
    await down(camera, T0 + MINUTE_MS);
    await look(15);
    expect((await incidents())[0]!.affected).toEqual([{ watchId: kiosk, how: 'out' }]);
    await look(16);
    expect(await incidents()).toMatchObject([{ affected: [{ watchId: kiosk }, { watchId: camera }] }]);
    await up(kiosk, T0 + 18 * MINUTE_MS);
    await look(19);
    expect((await incidents())[0]!.ended).toBe(null);
    await up(camera, T0 + 30 * MINUTE_MS);
    await look(31);
    expect((await incidents())[0]!.ended).toBe(T0 + 30 * MINUTE_MS);
  });

  it('says nothing where somebody has, of what is on no page of it, or of other sections', async () => {
    await saveNewIncident(
      store.db,
      incidentFacts(pageId, 'We know of the kiosk', T0, { affected: [{ watchId: kiosk, how: 'out' }] }),
    );
    await down(kiosk, T0);
    await down(elsewhere, T0);
    await look(60);
    expect((await incidents()).map(({ title }) => title)).toEqual(['We know of the kiosk']);
    const hidden = await makeWatch(store.db, webConfig('http://hidden.test/'), {
      name: 'Hidden',
      section: 'Water',
      createdAt: T0,
    });
    await store.db('outages').delete();
    await down(hidden, T0);
    await look(61);
    expect(await incidents()).toHaveLength(1);
  });

  it('is a person’s as soon as they say how it goes on', async () => {
    await down(kiosk, T0);
    await look(15);
    const [told] = await incidents();
    await addIncidentUpdate(
      HOUSE,
      { id: told!.id, body: { body: 'A boat hit the mast.', stage: 'found' }, expected: null },
      world,
    );
    await up(kiosk, T0 + 20 * MINUTE_MS);
    await look(30);
    expect((await incidents())[0]!.ended).toBe(null);
  });
});

describe('a text for the public', () => {
  it('is filled in with what visitors know, and nothing else', () => {
    const facts = { labels: ['Booking', 'Kiosks'], page: 'Ferries', began: T0, ended: T0 + 90 * MINUTE_MS };
    const values = valuesOf(facts, { language: 'de', zone: 'Europe/Lisbon', now: T0 });
    expect(values).toEqual({
      ...{
        service: 'Booking und Kiosks',
        page: 'Ferries',
        since: 'Fr., 27. Nov., 08:00',
        ended: 'Fr., 27. Nov., 09:30',
      },
      length: '1 Std. 30 Min.',
    });
    expect(fillPublicText({ ...OUT, title: '{{ service }}\nis out' }, values).title).toBe(
      'Booking und Kiosks is out',
    );
    expect(() => fillPublicText({ ...OUT, body: '{{ watch.address }}' }, values)).toThrow(
      /undefined variable/,
    );
    expect(
      fillPublicText({ ...OUT, title: '{{ service }}'.repeat(40) }, values).title.length,
    ).toBeLessThanOrEqual(120);
  });
});
