import { fillPublicText, valuesOf } from '@/core/pages/public-text';
import type { Db } from '@/store/db/connection';
import { fetchOutage } from '@/store/history/outages';
import { fetchPages, type Page } from '@/store/pages/pages';
import * as store from '@/store/pages/public-texts';
import { fetchLabels, namesOn } from '@/store/pages/shown';
import { fetchSections } from '@/store/watches/sections';
import { deletes } from '@/cases/frame/deletes';
import { orNotFound } from '@/cases/frame/find';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { refused } from '@/cases/frame/refusal';
import { asIs, asks, changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, versionOf, type VersionedChange } from '@/cases/frame/version';
import { fillTextSchema, publicTextSchema, selfTellingSchema } from '@/cases/schemas/public-texts';
import type { PublicText } from '@/core/pages/public-text';

async function found(db: Db, id: number): Promise<store.KeptPublicText> {
  return orNotFound(await store.fetchPublicText(db, id), `public text ${id}`);
}

export const publicTextVersion = ({ name, title, body, over }: PublicText): string =>
  versionOf([name, title, body, over]);

const touched = ({ about }: Act, { id, name }: { id: number; name: string }) =>
  about({ kind: 'public text', id, name });

async function refuseTaken(db: Db, name: string, own: number | null): Promise<void> {
  const taken = (await store.fetchPublicTexts(db)).some((one) => one.id !== own && one.name === name);
  if (taken)
    throw refused([{ field: 'name', message: `Expected a name of its own; “${name}” is there already.` }]);
}

export const listPublicTexts = asks('listPublicTexts', 'look', ({ db }, _: Record<string, never>) =>
  store.fetchPublicTexts(db),
);

export const getPublicText = asks('getPublicText', 'look', ({ db }, { id }: { id: number }) => found(db, id));

export const createPublicText = changes(
  'createPublicText',
  'write',
  ({ body }: { body: unknown }) => validateBody<PublicText>(publicTextSchema, body),
  async (act, text): Promise<store.KeptPublicText> => {
    await refuseTaken(act.trx, text.name, null);
    const id = await store.saveNewPublicText(act.trx, text);
    touched(act, { id, name: text.name });
    return found(act.trx, id);
  },
);

export const changePublicText = changes(
  'changePublicText',
  'write',
  asIs<VersionedChange>,
  async (act, { id, body, expected }): Promise<store.KeptPublicText> => {
    const before = await found(act.trx, id);
    refuseChanged(expected, publicTextVersion(before), `“${before.name}”`);
    const { id: _, ...stands } = before;
    const text = await validateBody<PublicText>(publicTextSchema, {
      ...stands,
      ...withoutReadOnly(body, []),
    });
    await refuseTaken(act.trx, text.name, id);
    await store.savePublicText(act.trx, id, text);
    touched(act, { id, name: text.name });
    return found(act.trx, id);
  },
);

export const deletePublicText = deletes('deletePublicText', 'write', {
  find: found,
  version: publicTextVersion,
  called: ({ name }) => `“${name}”`,
  remove: store.deletePublicText,
  touched,
});

/** What a page is spoken with, and what visitors call some watches there. */
export async function placeOn(db: Db, page: Page | undefined, watchIds: readonly number[], zone: string) {
  const labels = page ? await fetchLabels(db, page) : new Map<number, string>();
  return {
    labels: namesOn(labels, watchIds),
    page: page?.title ?? '',
    language: page?.language ?? ('en' as const),
    zone: page?.zone ?? zone,
  };
}

/** A text filled in for an outage, or for what is chosen: nothing is published. */
export const fillText = asks(
  'fillText',
  'write',
  async ({ db, now, world }, { id, body }: { id: number; body: unknown }) => {
    const text = await found(db, id);
    const sent = await validateBody<{ outageId: number | null; pageId: number | null; watchIds: number[] }>(
      fillTextSchema,
      body,
    );
    const outage = sent.outageId === null ? null : await fetchOutage(db, sent.outageId);
    const pages = await fetchPages(db);
    const page = pages.find((one) => one.id === sent.pageId) ?? pages[0];
    const watchIds = sent.watchIds.length > 0 ? sent.watchIds : outage ? [outage.watchId] : [];
    const place = await placeOn(db, page, watchIds, world.place.zone);
    const facts = { ...place, began: outage?.began ?? now, ended: outage?.ended ?? null };
    return fillPublicText(text, valuesOf(facts, { ...place, now }));
  },
);

export const listSelfTellings = asks('listSelfTellings', 'look', ({ db }, _: Record<string, never>) =>
  store.fetchSelfTellings(db),
);

type Telling = Omit<store.SelfTelling, 'sectionId'>;

async function foundSection(db: Db, id: number): Promise<{ id: number; name: string }> {
  return orNotFound((await fetchSections(db)).find((one) => one.id === id) ?? null, `section ${id}`);
}

/** A section tells the public of long outages by itself. */
export const setSelfTelling = changes(
  'setSelfTelling',
  'write',
  async ({ id, body }: { id: number; body: unknown }) => ({
    id,
    telling: await validateBody<Telling>(selfTellingSchema, body),
  }),
  async (act, { id, telling }): Promise<store.SelfTelling> => {
    const section = await foundSection(act.trx, id);
    const text = await store.fetchPublicText(act.trx, telling.textId);
    if (!text)
      throw refused([{ field: 'textId', message: `Expected a text there is, got ${telling.textId}.` }]);
    if (text.over === '') {
      const message = `Expected a text that says something of the end, for it closes by itself; “${text.name}” does not.`;
      throw refused([{ field: 'textId', message }]);
    }
    const before = (await store.fetchSelfTellings(act.trx)).find(({ sectionId }) => sectionId === id);
    const pages = await fetchPages(act.trx);
    const known = new Set([...pages.map((page) => page.id), ...(before?.pageIds ?? [])]);
    const unknown = telling.pageIds.find((page) => !known.has(page));
    if (unknown !== undefined) {
      throw refused([{ field: 'pageIds', message: `Expected known pages, got ${unknown}.` }]);
    }
    await store.saveSelfTelling(act.trx, id, telling);
    act.about({ kind: 'section', id, name: section.name });
    return { sectionId: id, ...telling };
  },
);

/** A section tells nothing by itself any more. */
export const endSelfTelling = changes(
  'endSelfTelling',
  'write',
  asIs<{ id: number }>,
  async (act, { id }): Promise<void> => {
    const section = await foundSection(act.trx, id);
    await store.saveSelfTelling(act.trx, id, null);
    act.about({ kind: 'section', id, name: section.name });
  },
);
