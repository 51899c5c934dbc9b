import { mail } from '@/channels/kinds/mail';
import { fetchChannel } from '@/store/messages/channels';
import { hashPassword } from '@/accounts/passwords';
import { newSecret } from '@/accounts/secrets';
import type { PageSettings } from '@/core/pages/page';
import type { Db } from '@/store/db/connection';
import { deleteIncidentsOnlyOn } from '@/store/pages/incidents';
import {
  deletePage as deleteKept,
  fetchPage,
  fetchPageByHost,
  fetchPageBySlug,
  fetchPages,
  saveNewPage,
  savePageChange,
  type Page,
  type PageContent,
} from '@/store/pages/pages';
import { fetchPictures } from '@/store/pages/pictures';
import { picturesOf, USE_OF, type PagePictures } from '@/core/pages/picture';
import { fetchLabels } from '@/store/pages/shown';
import { carryChoices } from '@/cases/followers/carry-choices';
import { fetchSections } from '@/store/watches/sections';
import { fetchTags } from '@/store/watches/tags';
import { fetchKnownIds } from '@/store/watches/watches';
import type { World } from '@/cases/frame/world';
import { orNotFound } from '@/cases/frame/find';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { refused, type FieldRefusal } from '@/cases/frame/refusal';
import { asks, changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, versionOf, type VersionedChange } from '@/cases/frame/version';
import { readMoment } from '@/cases/schemas/common';
import { pageSchema } from '@/cases/schemas/pages';
import { deletes } from '@/cases/frame/deletes';

export async function foundPage(db: Db, id: number): Promise<Page> {
  return orNotFound(await fetchPage(db, id), `page ${id}`);
}

/** What is set of a page; of its password only whether it changed. */
export function pageVersion({ id: _id, createdAt: _made, ...content }: Page): string {
  return versionOf(Object.entries(content).sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** Refuses ids that are no watches. Those that stood there before may stay: what was deleted since may come back. */
export async function refuseUnknownWatches(
  db: Db,
  ids: readonly number[],
  field: string,
  before: readonly number[] = [],
): Promise<void> {
  const known = await fetchKnownIds(db, ids);
  const unknown = ids.find((id) => !known.has(id) && !before.includes(id));
  if (unknown !== undefined) throw refused([{ field, message: `Expected known watches, got ${unknown}.` }]);
}

interface PageBody extends Omit<PageSettings, 'lead'> {
  title: string;
  slug: string;
  intro: string;
  sections: Page['sections'];
  lead: { words: string; until: string } | null;
  password?: string | null;
  copyPassword?: string | null;
}

/** What was sent, read once before anything is locked: hashing a password takes its time. */
interface Sent {
  body: Record<string, unknown>;
  passwordHash: string | null;
  /** Seals what is to be kept secret. */
  seal: (secret: string) => string;
  /** Where the desk is found. */
  linkBase: string;
}

const READ_ONLY = ['createdAt', 'address', 'hasPassword', 'hasCopyPassword'];

async function readSent(given: unknown, { vault, place }: World): Promise<Sent> {
  const body = withoutReadOnly((given ?? {}) as object, READ_ONLY);
  const { password } = body;
  // A password that would be refused is not worth hashing; it is refused with all else.
  const worth = typeof password === 'string' && password.length >= 8 && password.length <= 200;
  const passwordHash = worth ? await hashPassword(password) : null;
  return { body, passwordHash, seal: vault.seal, linkBase: place.linkBase };
}

/** By these names the desk itself is found; a page that took one would shut everybody out of it. */
function isDeskName(host: string, linkBase: string): boolean {
  return host === new URL(linkBase).hostname || /^[\d.]+$/.test(host);
}

async function refuseTaken(
  db: Db,
  { slug, host }: PageBody,
  { ownId, linkBase }: { ownId: number | null; linkBase: string },
): Promise<void> {
  const problems: FieldRefusal[] = [];
  if (host !== null && isDeskName(host, linkBase)) {
    const message = `Expected a name the desk does not go by, got "${host}": nobody would find the desk there any more.`;
    problems.push({ field: 'host', message });
  }
  const sameName = await fetchPageBySlug(db, slug);
  if (sameName && sameName.id !== ownId) {
    const message = `Expected an address name of its own, but "${slug}" belongs to “${sameName.title}”.`;
    problems.push({ field: 'slug', message });
  }
  const sameHost = host === null ? null : await fetchPageByHost(db, host);
  if (sameHost && sameHost.id !== ownId) {
    const message = `Expected a name of its own, but "${host}" belongs to “${sameHost.title}”.`;
    problems.push({ field: 'host', message });
  }
  if (problems.length > 0) throw refused(problems);
}

/** A key belongs to one place: whoever changes host or account enters it again. */
function refuseKeyElsewhere(
  { copyTo }: Pick<PageBody, 'copyTo'>,
  typed: string | null,
  before: Page | null,
): void {
  if (!copyTo || typed || !before?.copyPassword || !before.copyTo) return;
  const [was, is] = [new URL(before.copyTo.address), new URL(copyTo.address)];
  if (was.origin === is.origin && before.copyTo.user === copyTo.user) return;
  const message = 'Expected the password again, for it is put somewhere else, or under another name.';
  throw refused([{ field: 'copyPassword', message }]);
}

/** Refuses names of pictures that are none, or are made for something else. */
async function refuseUnknownPictures(db: Db, page: PagePictures): Promise<void> {
  const known = new Map((await fetchPictures(db, picturesOf(page))).map(({ name, use }) => [name, use]));
  const problems: FieldRefusal[] = [];
  for (const field of Object.keys(USE_OF) as (keyof PagePictures)[]) {
    const name = page[field];
    if (name === null || known.get(name) === USE_OF[field]) continue;
    problems.push({ field, message: `Expected a ${USE_OF[field]} that was taken in, got ${name}.` });
  }
  if (problems.length > 0) throw refused(problems);
}

const watchesOf = (sections: Page['sections']) =>
  sections.flatMap(({ items }) => items.flatMap(({ watchIds }) => watchIds));

async function refuseUnknownFollows(
  db: Db,
  sections: Page['sections'],
  before: Page['sections'],
): Promise<void> {
  const wanted = sections.flatMap(({ follows }, i) => (follows ? [{ follows, i }] : []));
  if (wanted.length === 0) return;
  const known = {
    sectionId: new Set((await fetchSections(db)).map(({ id }) => id)),
    tagId: new Set((await fetchTags(db)).map(({ id }) => id)),
  };
  for (const { follows, i } of wanted) {
    for (const name of ['sectionId', 'tagId'] as const) {
      const id = follows[name];
      const stood = before.some((section) => section.follows?.[name] === id);
      if (id !== null && !known[name].has(id) && !stood) {
        const message = `Expected a ${name === 'tagId' ? 'tag' : 'section'} there is, got ${id}.`;
        throw refused([{ field: `sections[${i}].follows.${name}`, message }]);
      }
    }
  }
}

/** What a page is to be from what was sent over what stands. */
async function validPage(
  db: Db,
  { body, passwordHash, seal, linkBase }: Sent,
  before: Page | null,
): Promise<PageContent> {
  const { password: _typed, lead, copyPassword, ...page } = await validateBody<PageBody>(pageSchema, body);
  refuseKeyElsewhere(page, copyPassword ?? null, before);
  await refuseTaken(db, { ...page, lead }, { ownId: before?.id ?? null, linkBase });
  const stood = before?.sections ?? [];
  await refuseUnknownWatches(db, watchesOf(page.sections), 'sections', watchesOf(stood));
  await refuseUnknownFollows(db, page.sections, stood);
  await refuseUnknownPictures(db, page);
  const account = page.follow?.channelId ?? null;
  const isNew = account !== null && account !== before?.follow?.channelId;
  if (isNew && (await fetchChannel(db, account))?.kind !== mail.id) {
    const message = `Expected a mail channel there is, got ${account}.`;
    throw refused([{ field: 'follow.channelId', message }]);
  }
  const hash = passwordHash ?? before?.passwordHash ?? null;
  if (page.audience === 'password' && hash === null) {
    throw refused([{ field: 'password', message: 'Expected a password that opens the page, got nothing.' }]);
  }
  return {
    ...page,
    lead: lead && { words: lead.words, until: readMoment(lead.until)! },
    passwordHash: hash,
    copyPassword:
      page.copyTo === null ? null : copyPassword ? seal(copyPassword) : (before?.copyPassword ?? null),
    secret: before?.secret ?? (page.audience === 'link' ? newSecret() : null),
  };
}

/** A page as it would be with what was sent; the password that is typed counts for nothing yet. */
export function pageAsSent(
  db: Db,
  sent: Record<string, unknown>,
  { before, linkBase }: { before: Page | null; linkBase: string },
): Promise<PageContent> {
  const { password: _typed, copyPassword: _key, ...body } = withoutReadOnly(sent, READ_ONLY);
  const whole = { ...(before && bodyOf(before)), ...body };
  return validPage(
    db,
    { body: whole, passwordHash: before?.passwordHash ?? '', seal: () => '', linkBase },
    before,
  );
}

/** A page as it is written by whoever changes it. */
function bodyOf({
  id: _id,
  createdAt: _made,
  secret: _secret,
  passwordHash: _hash,
  copyPassword: _key,
  lead,
  ...page
}: Page): object {
  return { ...page, lead: lead && { words: lead.words, until: new Date(lead.until).toISOString() } };
}

function touched({ about, afterwards, world }: Act, id: number, title: string): void {
  about({ kind: 'page', id, name: title });
  afterwards(() => world.hub.emit('pages', id));
}

export const listPages = asks('listPages', 'look', ({ db }): Promise<Page[]> => fetchPages(db));

export const getPage = asks('getPage', 'look', ({ db }, { id }: { id: number }) => foundPage(db, id));

export const createPage = changes(
  'createPage',
  'write',
  ({ body }: { body: unknown }, { world }) => readSent(body, world),
  async (act, sent): Promise<Page> => {
    const valid = await validPage(act.trx, sent, null);
    const id = await saveNewPage(act.trx, { ...valid, createdAt: act.now });
    touched(act, id, valid.title);
    return foundPage(act.trx, id);
  },
);

export const changePage = changes(
  'changePage',
  'write',
  async ({ id, body, expected }: VersionedChange, { world }) => ({
    id,
    expected,
    sent: await readSent(body, world),
  }),
  async (act, { id, sent, expected }): Promise<Page> => {
    const page = await foundPage(act.trx, id);
    refuseChanged(expected, pageVersion(page), `“${page.title}”`);
    const whole = { ...sent, body: { ...bodyOf(page), ...sent.body } };
    const valid = await validPage(act.trx, whole, page);
    const before = await fetchLabels(act.trx, page);
    await savePageChange(act.trx, id, valid);
    const changed = await foundPage(act.trx, id);
    await carryChoices(act.trx, changed, before);
    touched(act, id, valid.title);
    return changed;
  },
);

/** Gives a page another secret link; the one that was known leads nowhere from then on. */
export const renewPageLink = changes(
  'renewPageLink',
  'write',
  ({ id }: { id: number }) => ({ id, secret: newSecret() }),
  async (act, { id, secret }): Promise<Page> => {
    const page = await foundPage(act.trx, id);
    await savePageChange(act.trx, id, { ...page, secret });
    touched(act, id, page.title);
    return foundPage(act.trx, id);
  },
);

export const deletePage = deletes('deletePage', 'write', {
  find: foundPage,
  version: pageVersion,
  called: ({ title }) => `“${title}”`,
  remove: async (trx, id) => {
    await deleteIncidentsOnlyOn(trx, id);
    await deleteKept(trx, id);
  },
  touched: (act, { id, title }) => touched(act, id, title),
});
