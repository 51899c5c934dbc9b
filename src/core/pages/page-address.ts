import type { Audience, PageSettings } from './page';

interface Addressed extends Pick<PageSettings, 'audience' | 'host'> {
  slug: string;
  secret: string | null;
}

/** By which it is found below /p/: with its secret where it has one. */
export function pageName({ slug, audience, secret }: Omit<Addressed, 'host'>): string {
  return audience === 'link' && secret !== null ? `${slug}.${secret}` : slug;
}

/** Where those a page is for find it: by a name of its own, or below the desk's; with its secret where it has one. */
export function pageAddress(base: string, page: Addressed): string {
  if (page.host !== null) return `${base.startsWith('https:') ? 'https' : 'http'}://${page.host}/`;
  return `${base}/p/${pageName(page)}/`;
}

export const AUDIENCE_WORDS: Readonly<Record<Audience, string>> = {
  everyone: 'for everyone',
  link: 'for who has its secret link',
  password: 'for who knows its password',
  'signed-in': 'for who is signed in',
};
