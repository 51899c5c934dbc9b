import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { fetchFollowersView, fetchPendingLetters, MOST_FOLLOWERS_SHOWN } from '@/views/pages/followers';
import { fetchIncidentDraft } from '@/views/pages/incident-draft';
import { fetchPageChoices, pageValues } from '@/views/pages/page-form';
import { fetchTellChoices } from '@/views/pages/tell';
import { saveNewFollower } from '@/store/followers/followers';
import { saveNewLetter } from '@/store/followers/letters';
import { saveNewChannel } from '@/store/messages/channels';
import { saveMailEndpoint } from '@/store/messages/mail-endpoint';
import { fetchPageBySlug, saveNewPage } from '@/store/pages/pages';
import { saveNewPublicText } from '@/store/pages/public-texts';
import { makeWatch, tempStore, webConfig, type TempStore } from '../helpers';
import { line, mailFollower, pageContent } from '../pages';
import { NOW, troubled } from './troubled';

describe('public pages as the desk shows them', () => {
  let store: TempStore;
  let [mast, camera] = [0, 0];
  beforeEach(async () => {
    store = await tempStore();
    mast = await makeWatch(store.db, webConfig('http://mast.test/'), { name: 'Mast', section: 'Piers' });
    camera = await makeWatch(store.db, webConfig('http://camera.test/'), { name: 'Camera' });
  });
  afterEach(() => store.close());

  const channel = (name: string, kind: string, enabled = true) =>
    saveNewChannel(store.db, { kind, name, settings: {}, enabled, createdAt: NOW });
  const page = async (slug: string, items: ReturnType<typeof line>[], rest: object = {}) => {
    await saveNewPage(store.db, pageContent(items, { slug, title: `Page ${slug}`, ...rest }));
    return (await fetchPageBySlug(store.db, slug))!;
  };

  it('offer what there is to choose from, and no address another page has', async () => {
    await channel('Crew', 'desk');
    const letters = await channel('Letters', 'mail');
    const own = await page('ferries', [line(camera, 'Harbour camera')]);
    await page('crew', []);
    await store.db('tags').insert({ name: 'night', colour: 'teal' });
    const choices = await fetchPageChoices(store.db, own);
    expect(choices).toMatchObject({
      ...{ sections: [{ id: 1, name: 'Piers' }], tags: [{ id: 1, name: 'night' }], slugs: ['crew'] },
      ...{ mailChannels: [{ id: letters, name: 'Letters' }], mailDomain: null },
    });
    expect(choices.watches.map(({ id }) => id).toSorted()).toEqual([mast, camera].toSorted());
    expect(choices.zones).toContain('Europe/Lisbon');
    await store.db('watches').where('id', '>', 0).update({ deleted_at: NOW });
    // What stands on the page may come back; what was never chosen is not offered.
    expect((await fetchPageChoices(store.db, own)).watches).toEqual([
      { id: camera, name: 'Camera', deleted: true },
    ]);
    await store.db('watches').update({ deleted_at: null });
    expect((await fetchPageChoices(store.db, null)).slugs.toSorted()).toEqual(['crew', 'ferries']);
    const door = { open: true, port: 2525, domain: 'in.ternferry.test', largestKb: 100 };
    await saveMailEndpoint(store.db, door);
    expect((await fetchPageChoices(store.db, null)).mailDomain).toBe('in.ternferry.test');
  });

  it('begin their form with what stands, without watches that are gone, and with none of its secrets', async () => {
    const lead = { words: 'Storm tonight', until: NOW };
    const own = await page(
      'ferries',
      [line([mast, 99], 'Mast'), line(99, 'Gone'), line([camera, mast], 'Both')],
      { lead, language: 'de', passwordHash: 'x', secret: 'y' },
    );
    const values = pageValues(own, new Set([mast, camera]));
    expect(values).toMatchObject({
      ...{ title: 'Page ferries', slug: 'ferries', language: 'de', password: '', copyPassword: '' },
      lead: { words: 'Storm tonight', until: '2026-11-20T12:00:00.000Z' },
    });
    expect(values.sections[0]!.items.map(({ label, watchIds }) => [label, watchIds])).toEqual([
      ['Mast', [mast]],
      ['Both', [camera, mast]],
    ]);
    expect(JSON.stringify(values)).not.toMatch(/passwordHash|secret/);
    const keys = values.sections.flatMap(({ key, items }) => [key, ...items.map((item) => item.key)]);
    expect(new Set(keys).size).toBe(3);
    expect(keys.every((key) => key < 0)).toBe(true);
    const empty = pageValues(null, new Set());
    expect(empty).toMatchObject({ title: '', slug: '', intro: '', lead: null, audience: 'everyone' });
    expect(empty.sections.map(({ title, items }) => [title, items])).toEqual([['', []]]);
  });

  it('say who follows them, a screenful at a time, and how far what they are told has got', async () => {
    const letters = await channel('Letters', 'mail', false);
    const own = await page('ferries', [], { follow: { channelId: letters, perHour: 10, bounced: false } });
    for (let i = 0; i <= MOST_FOLLOWERS_SHOWN; i += 1) {
      const state = i === 0 ? 'aside' : 'follows';
      await saveNewFollower(store.db, {
        ...mailFollower(own.id, NOW),
        address: `crew${i}@ternferry.test`,
        state,
      });
    }
    const all = await fetchFollowersView(store.db, own, {});
    expect([all.followers.length, all.more]).toEqual([MOST_FOLLOWERS_SHOWN, true]);
    expect(all.counts).toMatchObject({ follows: MOST_FOLLOWERS_SHOWN, aside: 1 });
    expect(all.channel).toEqual({ name: 'Letters', enabled: false });
    expect(all.letters).toEqual({ waiting: 0, sent: 0, givenUp: 0 });
    expect(Object.keys(all.followers[0]!)).not.toEqual(expect.arrayContaining(['secret']));
    expect(Object.keys(all.followers[0]!)).not.toEqual(expect.arrayContaining(['mark']));
    const aside = await fetchFollowersView(store.db, own, { state: 'aside' });
    expect([aside.followers.map(({ address }) => address), aside.more]).toEqual([
      ['crew0@ternferry.test'],
      false,
    ]);
    const some = await fetchFollowersView(store.db, own, { words: 'crew42' });
    expect(some.followers.map(({ address }) => address)).toEqual(['crew42@ternferry.test']);
    expect((await fetchFollowersView(store.db, await page('crew', []), {})).channel).toBeNull();
  });

  it('say when an incident goes out, and on how many of them', async () => {
    const [one, two] = [await page('ferries', []), await page('crew', [])];
    const tell = (pageId: number, key: string, dueAt: number) =>
      saveNewLetter(store.db, {
        ...{ pageId, key, facts: { kind: 'confirm' }, about: '', urgency: 1, madeAt: NOW, dueAt },
      } as never);
    expect(await fetchPendingLetters(store.db, 7)).toBeNull();
    await tell(one.id, 'i7.1', NOW + 10);
    await tell(two.id, 'i7.1', NOW + 30);
    await tell(one.id, 'i7.2', NOW + 20);
    await tell(one.id, 'i71.1', NOW + 99);
    expect(await fetchPendingLetters(store.db, 7)).toEqual({ dueAt: NOW + 30, pages: 2 });
  });

  it('draft an incident from an outage: in the words of the pages it stands on, with what is down because of it', async () => {
    const { outage } = troubled(store.db);
    const ferries = await page('ferries', [line(camera, 'Harbour camera'), line(mast, 'Radio mast')]);
    const crew = await page('crew', [line([mast, camera], 'All of it')]);
    await page('empty', []);
    const open = await outage(mast, 30);
    await outage(camera, 29, { follows: mast });
    const past = await outage(mast, 90, { ended: 80 });
    expect(await fetchIncidentDraft(store.db, open, 'UTC')).toMatchObject({
      ...{ outageId: open, title: 'Radio mast is not answering', stage: 'looking', endedAt: null },
      affected: [
        { watchId: mast, how: 'out' },
        { watchId: camera, how: 'out' },
      ],
      pageIds: [ferries.id, crew.id],
    });
    expect(await fetchIncidentDraft(store.db, past, 'UTC')).toMatchObject({
      ...{ stage: 'over', affected: [{ watchId: mast, how: 'out' }] },
    });
    expect(await fetchIncidentDraft(store.db, 999, 'UTC')).toBeNull();
  });

  it('are chosen from with how many hear of it, and services by what visitors read of them first', async () => {
    const ferries = await page('ferries', [line(camera, 'Harbour camera')]);
    const crew = await page('crew', [line(camera, 'Camera again'), line(mast, 'Mast')]);
    await saveNewFollower(store.db, mailFollower(crew.id, NOW));
    const out = { name: 'Out', title: 'Out', body: 'Out', over: 'Over' };
    const textId = await saveNewPublicText(store.db, out);
    expect(await fetchTellChoices(store.db)).toEqual({
      pages: [
        { id: ferries.id, title: 'Page ferries', followers: 0 },
        { id: crew.id, title: 'Page crew', followers: 1 },
      ],
      texts: [{ id: textId, name: 'Out' }],
      watches: [
        { id: camera, name: 'Harbour camera' },
        { id: mast, name: 'Mast' },
      ],
    });
  });
});
