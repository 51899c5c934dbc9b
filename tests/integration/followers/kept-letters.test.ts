import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { WHOLE_PAGE, type FollowerChoice } from '@/core/followers/follower';
import type { LetterFacts } from '@/core/followers/letter';
import { DAY_MS, MINUTE_MS } from '@/core/time/units';
import { transaction } from '@/store/db/connection';
import { bounceAddress, fetchBounced } from '@/store/followers/bounce-addresses';
import {
  fetchFollower,
  saveAskedAgain,
  saveBounced,
  saveNewFollower,
  saveReached,
  saveRefusal,
  type NewFollower,
} from '@/store/followers/followers';
import { fetchDueLetterDeliveries, pullLetters, saveNewLetter, URGENCY } from '@/store/followers/letters';
import { fetchDueLetters, spreadLetter } from '@/store/followers/spreading';
import { saveNewPage } from '@/store/pages/pages';
import { tempStore, type TempStore } from '../helpers';
import { pageContent } from '../pages';

const T0 = Date.parse('2026-11-27T08:00:00Z');
const SHOWN = new Set(['Booking', 'Tides']);

describe('what is kept of letters and of those who follow', () => {
  let store: TempStore;
  let pageId: number;
  beforeEach(async () => {
    store = await tempStore();
    pageId = await saveNewPage(store.db, pageContent([]));
  });
  afterEach(() => store.close());

  const follow = (name: string, rest: Partial<NewFollower> = {}) =>
    saveNewFollower(store.db, {
      ...{ pageId, kind: 'mail', address: `${name}@ternferry.test`, secret: null, choice: WHOLE_PAGE },
      ...{ language: 'en', state: 'follows', consent: 'said so', madeAt: T0, askedAt: null, confirmedAt: T0 },
      ...rest,
    });
  const choosing = (name: string, choice: Partial<FollowerChoice>) =>
    follow(name, { choice: { ...WHOLE_PAGE, ...choice } });
  const tell = async (key: string, facts: LetterFacts, rest: { urgency?: number; dueAt?: number } = {}) => {
    const letter = {
      pageId,
      key,
      facts,
      about: 'incident/1',
      urgency: URGENCY.usual,
      madeAt: T0,
      dueAt: T0,
      ...rest,
    };
    await transaction(store.db, (trx) => saveNewLetter(trx, letter));
    const letters = await fetchDueLetters(store.db, T0);
    return letters.find((one) => one.key === key)!;
  };
  const incident: LetterFacts = {
    ...{ kind: 'incident', notice: false, title: 'Out', stage: 'looking', body: '', at: T0 },
    affected: [{ label: 'Booking', how: 'out' }],
  };
  const maintenance: LetterFacts = {
    ...{ kind: 'maintenance', stage: 'ahead', title: 'New mast', text: '', labels: ['Tides'] },
    ...{ begins: T0, ends: T0 + MINUTE_MS },
  };
  const getting = async (facts: LetterFacts) => {
    const letter = await tell(JSON.stringify(facts).slice(0, 60), facts);
    await spreadLetter(store.db, letter, SHOWN, T0);
    const ids: number[] = await store
      .db('letter_deliveries')
      .where('letter_id', letter.id)
      .pluck('follower_id');
    const names = await Promise.all(
      ids.map(async (id) => (await fetchFollower(store.db, id))!.address.split('@')[0]),
    );
    return names.sort();
  };

  it('a letter goes to whoever chose what it is about', async () => {
    await follow('all');
    await choosing('booking', { labels: ['Booking'] });
    await choosing('tides', { labels: ['Tides'] });
    await choosing('calm', { labels: ['Tides'], maintenance: false });
    expect(await getting(incident)).toEqual(['all', 'booking']);
    expect(await getting(maintenance)).toEqual(['all', 'tides']);
    // What names no line is for everybody, work on the page less.
    expect(await getting({ ...incident, title: 'Fog', affected: [] })).toEqual([
      'all',
      'booking',
      'calm',
      'tides',
    ]);
    expect(await getting({ ...maintenance, title: 'Fog', labels: [] })).toEqual(['all', 'booking', 'tides']);
    expect(await getting({ kind: 'again' })).toEqual(['all', 'booking', 'calm', 'tides']);
  });

  it('a mail that is put off again and again goes behind the others, a program hears all in order', async () => {
    for (const kind of ['mail', 'webhook'] as const) {
      await follow(`late-${kind}`, { kind });
      await follow(`prompt-${kind}`, { kind });
    }
    const first = await tell('first', incident);
    const second = await tell('second', { ...incident, title: 'Again' });
    const urgent = await tell('urgent', { ...incident, title: 'Now' }, { urgency: URGENCY.trouble });
    for (const letter of [first, second, urgent]) await spreadLetter(store.db, letter, SHOWN, T0);
    await store
      .db('letter_deliveries')
      .whereIn('follower_id', store.db('followers').where('address', 'like', 'late%').select('id'))
      .andWhere('letter_id', first.id)
      .update({ attempts: 3 });
    const order = async (kind: 'mail' | 'webhook') =>
      (await fetchDueLetterDeliveries(store.db, { kind, pageIds: [pageId], now: T0, limit: 9 })).map(
        ({ letter, follower }) => `${letter.key} ${follower.address.split('-')[0]}`,
      );
    expect(await order('mail')).toEqual([
      ...['urgent late', 'urgent prompt'],
      ...['first prompt', 'second late', 'second prompt', 'first late'],
    ]);
    expect(await order('webhook')).toEqual([
      ...['urgent late', 'urgent prompt'],
      ...['first late', 'first prompt', 'second late', 'second prompt'],
    ]);
    const none = { kind: 'mail' as const, now: T0, limit: 9 };
    expect(await fetchDueLetterDeliveries(store.db, { ...none, pageIds: [] })).toEqual([]);
    expect(await fetchDueLetterDeliveries(store.db, { ...none, pageIds: [pageId], now: T0 - 1 })).toEqual([]);
  });

  it('what was planned by a clock that was wrong is pulled to now, and nothing else', async () => {
    await follow('ines');
    const letter = await tell('given', incident);
    await spreadLetter(store.db, letter, SHOWN, T0);
    await tell('ahead', incident, { dueAt: T0 + DAY_MS });
    const times = async () => [
      (await store.db('letter_deliveries').first())!.next_at,
      ...((await store.db('letters').orderBy('id').pluck('due_at')) as number[]),
    ];
    await store.db('letter_deliveries').update({ next_at: T0 + DAY_MS });
    await pullLetters(store.db, T0 + 1, DAY_MS);
    expect(await times()).toEqual([T0 + DAY_MS, T0, T0 + DAY_MS]);
    await pullLetters(store.db, T0 - 1, DAY_MS);
    expect(await times()).toEqual([T0 - 1, T0, T0 - 1]);
    // What was given out, or taken, is planned for no time any more.
    await store.db('letter_deliveries').update({ state: 'sent', next_at: T0 + DAY_MS });
    await store
      .db('letters')
      .where('key', 'given')
      .update({ due_at: T0 + DAY_MS });
    await pullLetters(store.db, T0 - 1, 1000);
    expect(await times()).toEqual([T0 + DAY_MS, T0 + DAY_MS, T0 - 1]);
  });

  it('an address for what comes back leads to whom it was made for, and is made by nobody else', async () => {
    const key = Buffer.alloc(32, 7);
    const ines = (await fetchFollower(store.db, await follow('ines')))!;
    const rui = (await fetchFollower(store.db, await follow('rui')))!;
    const address = bounceAddress(ines, key, 'back.ternferry.test');
    expect(address).toMatch(new RegExp(`^back-${ines.id}-[0-9a-f]{24}@back\\.ternferry\\.test$`));
    const [local = ''] = address.split('@');
    expect((await fetchBounced(store.db, local, key))?.id).toBe(ines.id);
    expect((await fetchBounced(store.db, local.toUpperCase(), key))?.id).toBe(ines.id);
    const mark = local.split('-')[2]!;
    for (const made of [
      `back-${rui.id}-${mark}`,
      `back-${ines.id}-${mark.replace(/.$/, (last) => (last === '0' ? '1' : '0'))}`,
      `back-0${ines.id}-${mark}`,
      `x-${local}`,
      `${local}0`,
      'back-999999999-' + mark,
      '',
    ])
      expect(await fetchBounced(store.db, made, key), made).toBeNull();
    expect(await fetchBounced(store.db, local, Buffer.alloc(32, 8))).toBeNull();
    // The mark of one follower alone is no key to another with the same number later.
    await store.db('followers').where('id', ines.id).update({ mark: 'another' });
    expect(await fetchBounced(store.db, local, key)).toBeNull();
  });

  it('a refusal counts until something is taken; of late returns that says little', async () => {
    const id = await follow('ines');
    const now = async () => {
      const { refusals, state, asideWhy } = (await fetchFollower(store.db, id))!;
      return { refusals, state, asideWhy };
    };
    await saveRefusal(store.db, id, null);
    expect(await now()).toEqual({ refusals: 1, state: 'follows', asideWhy: null });
    await saveReached(store.db, id, T0);
    expect(await now()).toEqual({ refusals: 0, state: 'follows', asideWhy: null });
    await saveBounced(store.db, id, { at: T0, asideWhy: null });
    await saveReached(store.db, id, T0 + DAY_MS);
    expect((await now()).refusals).toBe(1);
    await saveReached(store.db, id, T0 + 4 * DAY_MS);
    expect((await now()).refusals).toBe(0);
    await saveBounced(store.db, id, { at: T0 + 5 * DAY_MS, asideWhy: 'no such mailbox' });
    expect(await now()).toEqual({ refusals: 1, state: 'aside', asideWhy: 'no such mailbox' });
    expect((await store.db('followers').where({ id }).first())!.bounced_at).toBe(T0 + 5 * DAY_MS);
  });

  it('whoever is asked again keeps what they chose, unless they chose anew', async () => {
    const id = await choosing('ines', { labels: ['Booking'] });
    await saveAskedAgain(store.db, id, { choice: null, language: 'pt', at: T0 + 1 });
    const known = await fetchFollower(store.db, id);
    expect(known).toMatchObject({ language: 'pt', askedAt: T0 + 1, choice: { labels: ['Booking'] } });
    await saveAskedAgain(store.db, id, { choice: WHOLE_PAGE, language: 'pt', at: T0 + 2 });
    expect(await fetchFollower(store.db, id)).toMatchObject({ askedAt: T0 + 2, choice: WHOLE_PAGE });
  });
});
