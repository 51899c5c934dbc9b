import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  askToFollow,
  chooseFollowing,
  confirmFollowing,
  endFollowing,
  VISITOR,
} from '@/cases/followers/visitors';
import type { World } from '@/cases/frame/world';
import { createIncident } from '@/cases/pages/incidents';
import { HOUSE } from '@/cases/pages/tell-by-itself';
import { DAY_MS, HOUR_MS } from '@/core/time/units';
import { openVault } from '@/store/db/vault';
import { signFollowLink, type LinkPurpose } from '@/store/followers/follow-links';
import { fetchFollowerAt, saveFollows } from '@/store/followers/followers';
import { saveNewChannel } from '@/store/messages/channels';
import { ensureTakeKey } from '@/store/messages/take-links';
import { saveNewPage } from '@/store/pages/pages';
import { pageContent } from '../../integration/pages';
import { testWorld } from '../test-world';
import { tempStore, type TempStore } from '../../integration/helpers';

const T0 = Date.parse('2026-11-27T08:00:00Z');
const MAIL = 'ines@ternferry.test';

describe('a visitor of a page', () => {
  let store: TempStore;
  let world: World;
  let now: number;
  let pageId: number;

  beforeEach(async () => {
    store = await tempStore();
    now = T0;
    const channelId = await saveNewChannel(store.db, {
      ...{ kind: 'mail', name: 'Letters', enabled: true, createdAt: T0, settings: {} },
    });
    pageId = await saveNewPage(
      store.db,
      pageContent([], { follow: { channelId, perHour: 10, bounced: false } }),
    );
    world = testWorld({ db: store.db, vault: openVault(store.folder), now: () => now });
  });
  afterEach(() => store.close());

  const ask = (mail = MAIL, rest: object = {}) =>
    askToFollow(VISITOR, { pageId, body: { mail, labels: null, maintenance: true, ...rest } }, world);
  const letters = async () =>
    (await store.db('letters').pluck('facts')).map((facts) => (JSON.parse(facts) as { kind: string }).kind);
  const follower = async (mail = MAIL) => (await fetchFollowerAt(store.db, pageId, 'mail', mail))!;
  const link = async (purpose: LinkPurpose, one: { id: number; mark: string }) => ({
    body: { token: signFollowLink(purpose, one, await ensureTakeKey(store.db, world.vault)) },
  });

  it('is asked once a day, however often an address is typed; a clock that was set back asks once more', async () => {
    await ask();
    await ask();
    now += DAY_MS - 1;
    await ask(MAIL.toUpperCase());
    expect(await letters()).toEqual(['confirm']);
    now += 1;
    await ask();
    expect(await letters()).toEqual(['confirm', 'confirm']);
    now -= 3 * DAY_MS;
    await ask();
    expect(await letters()).toHaveLength(3);
  });

  it('changes nothing of whoever follows already', async () => {
    await ask(MAIL, { labels: ['Booking'] });
    await saveFollows(store.db, (await follower()).id, 'yes', now);
    now += 2 * DAY_MS;
    await ask(MAIL, { labels: ['Kiosks'], maintenance: false });
    expect(await follower()).toMatchObject({
      state: 'follows',
      choice: { labels: ['Booking'], maintenance: true },
    });
    expect(await letters()).toEqual(['confirm', 'again']);
  });

  it('is refused where sixty have asked within the hour, and let in again after it', async () => {
    for (let i = 0; i < 60; i += 1) await ask(`guest${i}@ternferry.test`);
    await expect(ask('late@ternferry.test')).rejects.toMatchObject({ code: 'follow.busy' });
    expect(await fetchFollowerAt(store.db, pageId, 'mail', 'late@ternferry.test')).toBe(null);
    now += HOUR_MS + 1;
    await ask('late@ternferry.test');
  });

  it('does with a link what it is for, and nothing else, as long as it follows', async () => {
    await ask();
    const one = await follower();
    const refused = { code: 'link.over' };
    await expect(endFollowing(VISITOR, await link('own', one), world)).rejects.toMatchObject(refused);
    await expect(confirmFollowing(VISITOR, await link('off', one), world)).rejects.toMatchObject(refused);
    await expect(chooseFollowing(VISITOR, await link('yes', one), world)).rejects.toMatchObject(refused);
    await expect(
      confirmFollowing(VISITOR, await link('yes', { ...one, mark: 'x'.repeat(12) }), world),
    ).rejects.toMatchObject(refused);
    await confirmFollowing(VISITOR, await link('yes', one), world);
    expect((await follower()).state).toBe('follows');
    await endFollowing(VISITOR, await link('off', one), world);
    // Who comes back under the same number is somebody else.
    await ask();
    await store.db('letter_deliveries').delete();
    await store.db('followers').update({ id: one.id });
    await expect(endFollowing(VISITOR, await link('off', one), world)).rejects.toMatchObject(refused);
    const deeds = JSON.stringify(await store.db('deeds'));
    expect(deeds).toContain('confirmFollowing');
    expect(deeds).not.toContain(MAIL);
  });

  it('is told half a minute after something was published', async () => {
    await ask();
    await saveFollows(store.db, (await follower()).id, 'yes', now);
    await createIncident(HOUSE, { body: { title: 'Out', body: 'We look.', pageIds: [pageId] } }, world);
    const [letter] = await store.db('letters').whereNull('spread_at');
    expect(letter).toMatchObject({ due_at: T0 + 30_000, page_id: pageId, urgency: 1 });
  });
});
