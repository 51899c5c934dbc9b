import type { Audience, PageSettings } from './page';

interface Addressed extends Pick<PageSettings, 'audience' | 'host'> {
  slug: string;
  secret: string | null;
}

/** Where those a page is for find it: by a name of its own, or below the desk's; with its secret where it has one. */
export function pageAddress(base: string, { slug, audience, secret, host }: Addressed): string {
  if (host !== null) return `${base.startsWith('https:') ? 'https' : 'http'}://${host}/`;
  return `${base}/p/${audience === 'link' && secret !== null ? `${slug}.${secret}` : slug}/`;
}

export const AUDIENCE_WORDS: Readonly<Record<Audience, string>> = {
  everyone: 'for everyone',
  link: 'for who has its secret link',
  password: 'for who knows its password',
  'signed-in': 'for who is signed in',
};
