import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { FollowByMail } from '@/core/pages/page';
import { fetchBrokenCopies, fetchCopyState, saveCopied, saveCopyProblem } from '@/store/pages/copies';
import { deleteIncidentsOnlyOn, fetchIncident, saveNewIncident } from '@/store/pages/incidents';
import { fetchPage, saveNewPage } from '@/store/pages/pages';
import { fetchPictureBytes, fetchPictures, savePicture } from '@/store/pages/pictures';
import {
  fetchBadgeShown,
  fetchPrivateBadge,
  saveNewPrivateBadge,
  type BadgeSubject,
} from '@/store/pages/private-badges';
import {
  deletePublicText,
  fetchPublicText,
  fetchPublicTexts,
  saveNewPublicText,
  savePublicText,
} from '@/store/pages/public-texts';
import { fetchShown } from '@/store/pages/shown';
import { line, pageContent } from '../pages';
import { makeWatch, periodConfig, tempStore, type TempStore } from '../helpers';

const AT = Date.UTC(2026, 10, 2, 9);
const NOW_ON = 'The boats sail again.';

describe('what is kept of pages', () => {
  let store: TempStore;
  beforeEach(async () => {
    store = await tempStore();
  });
  afterEach(() => store.close());

  const watch = (name: string, section: string | null = null) =>
    makeWatch(store.db, periodConfig(60, 0), { name, section });
  const page = (slug: string, rest: Parameters<typeof pageContent>[1] = {}) =>
    saveNewPage(store.db, pageContent([], { slug, ...rest }));

  it('says little of what is as usual, and all of what is not', async () => {
    const plain = await page('plain');
    const row = await store.db('pages').where({ id: plain }).first('settings');
    expect(JSON.parse(row!.settings as string)).toEqual({});
    const follow = { channelId: 7, perHour: 100 };
    // Of an earlier time: nothing was said of what comes back.
    const own = await page('own', { follow: follow as FollowByMail });
    expect((await fetchPage(store.db, own))!.follow).toEqual({ ...follow, bounced: false });
    const bounced = await page('bounced', { follow: { ...follow, bounced: true } });
    expect((await fetchPage(store.db, bounced))!.follow).toEqual({ ...follow, bounced: true });
    expect((await fetchPage(store.db, plain))!.follow).toBeNull();
  });

  it('takes incidents along that stand nowhere else, and no others', async () => {
    const [ferries, partners] = [await page('ferries'), await page('partners')];
    const incident = (title: string, pageIds: number[]) =>
      saveNewIncident(store.db, {
        ...{ kind: 'incident', title, pageIds, began: AT, ended: null, affected: [] },
        ...{ account: '', accountAt: null, outageId: null },
        update: { at: AT, stage: 'looking', body: 'We look into it.' },
      });
    const here = await incident('Here', [ferries]);
    const both = await incident('On both', [ferries, partners]);
    const there = await incident('There', [partners]);
    await deleteIncidentsOnlyOn(store.db, ferries);
    const left = await Promise.all([here, both, there].map((id) => fetchIncident(store.db, id)));
    expect(left.map((one) => one?.title)).toEqual([undefined, 'On both', 'There']);
  });

  it('knows of each copy when it was made, and why it could not be', async () => {
    const [ferries, partners] = [await page('ferries'), await page('partners')];
    expect(await fetchCopyState(store.db, ferries)).toEqual({ copiedAt: null, problem: null });
    await saveCopied(store.db, ferries, AT);
    await saveCopyProblem(store.db, partners, 'Nobody answers there.');
    expect(await fetchCopyState(store.db, ferries)).toEqual({ copiedAt: AT, problem: null });
    expect(await fetchCopyState(store.db, partners)).toEqual({
      copiedAt: null,
      problem: 'Nobody answers there.',
    });
    expect((await fetchBrokenCopies(store.db)).map(({ id }) => id)).toEqual([partners]);
    await saveCopied(store.db, partners, AT + 1);
    expect(await fetchBrokenCopies(store.db)).toEqual([]);
    expect(await fetchCopyState(store.db, 999)).toEqual({ copiedAt: null, problem: null });
  });

  it('changes and deletes one text of several', async () => {
    const text = (name: string) => ({ name, title: `${name}!`, body: 'We look into it.', over: NOW_ON });
    const fog = await saveNewPublicText(store.db, text('Fog'));
    const storm = await saveNewPublicText(store.db, text('Storm'));
    await savePublicText(store.db, fog, { name: 'Thick fog', title: 'Fog', body: 'Wait.', over: 'Clear.' });
    expect(await fetchPublicText(store.db, fog)).toMatchObject({
      ...{ name: 'Thick fog', title: 'Fog', body: 'Wait.', over: 'Clear.' },
    });
    expect(await fetchPublicText(store.db, storm)).toMatchObject(text('Storm'));
    await deletePublicText(store.db, fog);
    expect((await fetchPublicTexts(store.db)).map(({ name }) => name)).toEqual(['Storm']);
    expect(await fetchPublicText(store.db, fog)).toBeNull();
  });

  it('gives pictures by their names, and nothing where there is none', async () => {
    const bytes = Buffer.from('a picture');
    const { name } = await savePicture(store.db, 'logo', { bytes, wide: 40, high: 20 }, AT);
    expect(await fetchPictures(store.db, [])).toEqual([]);
    expect(await fetchPictures(store.db, [name, 'other.png'])).toEqual([{ name, use: 'logo' }]);
    expect((await fetchPictureBytes(store.db, name))!.equals(bytes)).toBe(true);
    expect(await fetchPictureBytes(store.db, 'other.png')).toBeNull();
  });

  it('shows on a badge one watch, or what is in a section', async () => {
    const pier = await watch('North pier', 'Piers');
    await watch('South pier', 'Piers');
    await watch('Office mail', 'Office');
    const { id: sectionId } = (await store.db('sections').where({ name: 'Piers' }).first('id')) as {
      id: number;
    };
    const badge = async (of: Partial<BadgeSubject>) => {
      const subject = { watchId: null, sectionId: null, tagId: null, ...of };
      const id = await saveNewPrivateBadge(store.db, { ...subject, secret: JSON.stringify(of), madeAt: AT });
      return (await fetchPrivateBadge(store.db, id))!;
    };
    const one = await fetchBadgeShown(store.db, await badge({ watchId: pier }), 'The pier');
    expect(one).toEqual([
      {
        title: '',
        items: [{ watchIds: [pier], label: 'The pier', description: '', shows: 'times', counting: 'any' }],
      },
    ]);
    const some = await fetchBadgeShown(store.db, await badge({ sectionId }), 'Piers');
    expect(some.map(({ title }) => title)).toEqual(['Piers']);
    expect(some[0]!.items.map(({ label, shows }) => [label, shows])).toEqual([
      ['North pier', 'times'],
      ['South pier', 'times'],
    ]);
  });

  it('fills a section with what carries its tag, and with nothing twice', async () => {
    const [pier, mail] = [await watch('North pier'), await watch('Office mail')];
    await store.db('tags').insert({ id: 7, name: 'money', colour: 'sea' });
    for (const id of [pier, mail]) await store.db('watch_tags').insert({ watch_id: id, tag_id: 7 });
    const follows = { sectionId: null, tagId: 7 };
    const shown = await fetchShown(store.db, [
      { title: 'Chosen', items: [line(mail, 'Mail')], follows: null },
      { title: 'Money', items: [], follows },
      { title: 'Again', items: [], follows },
    ]);
    expect(shown.map(({ items }) => items.map(({ label }) => label))).toEqual([['Mail'], ['North pier'], []]);
  });
});
