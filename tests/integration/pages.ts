import { PLAIN_SETTINGS, type PageItem } from '@/core/pages/page';
import { openLetters } from '@/site/pictures/letters';
import { WHOLE_PAGE } from '@/core/followers/follower';
import type { NewFollower } from '@/store/followers/followers';
import type { IncidentFacts } from '@/store/pages/incidents';
import type { PageContent } from '@/store/pages/pages';

/** What pictures are written with, as it was built. */
export const LETTERS = openLetters('dist/letters');

/** A line of a page for one watch, or several. */
export function line(watchIds: number | number[], label: string, rest: Partial<PageItem> = {}): PageItem {
  const ids = typeof watchIds === 'number' ? [watchIds] : watchIds;
  return { watchIds: ids, label, description: '', shows: 'history', counting: 'any', ...rest };
}

/** A page for everyone as it is stored, with one section of these lines. */
export function pageContent(
  items: PageItem[],
  rest: Partial<PageContent> = {},
): PageContent & { createdAt: number } {
  return {
    ...PLAIN_SETTINGS,
    slug: 'ferries',
    title: 'Tern Island Ferries',
    intro: '',
    sections: [{ title: '', items, follows: null }],
    secret: null,
    passwordHash: null,
    copyPassword: null,
    createdAt: 0,
    ...rest,
  };
}

/** Somebody who follows all of a page by mail since a time. */
export function mailFollower(pageId: number, at: number): NewFollower {
  return {
    ...{ pageId, kind: 'mail', address: 'ines@ternferry.test', secret: null, choice: WHOLE_PAGE },
    ...{ language: 'en', state: 'follows', consent: 'said so', madeAt: at, askedAt: null, confirmedAt: at },
  };
}

/** An incident as it is stored, open since then. */
export function incidentFacts(
  pageIds: number | number[],
  title: string,
  at: number,
  { body = 'We look into it.', ...rest }: Partial<IncidentFacts> & { body?: string } = {},
) {
  return {
    ...{ kind: 'incident' as const, title, began: at, ended: null, affected: [], account: '' },
    ...{ accountAt: null, outageId: null, update: { at, stage: 'looking' as const, body } },
    pageIds: typeof pageIds === 'number' ? [pageIds] : pageIds,
    ...rest,
  };
}
