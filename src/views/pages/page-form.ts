import { PLAIN_SETTINGS } from '@/core/pages/page';
import type { Db } from '@/store/db/connection';
import { fetchMailEndpoint } from '@/store/messages/mail-endpoint';
import { fetchChannels } from '@/store/messages/channels';
import { fetchPages, type Page } from '@/store/pages/pages';
import { fetchPickable } from '@/store/watches/pickable';
import { fetchSections } from '@/store/watches/sections';
import { fetchTags } from '@/store/watches/tags';

/** What the form of a page offers to choose from. */
export async function fetchPageChoices(db: Db, own: Page | null) {
  const [watches, sections, tags, pages, channels, door] = await Promise.all([
    // The first, and those the page shows already; others are found by their names.
    fetchPickable(
      db,
      (own?.sections ?? []).flatMap(({ items }) => items.flatMap(({ watchIds }) => watchIds)),
    ),
    fetchSections(db),
    fetchTags(db),
    fetchPages(db),
    fetchChannels(db),
    fetchMailEndpoint(db),
  ]);
  return {
    watches,
    sections: sections.map(({ id, name }) => ({ id, name })),
    tags: tags.map(({ id, name }) => ({ id, name })),
    slugs: pages.filter(({ id }) => id !== own?.id).map(({ slug }) => slug),
    mailChannels: channels.filter(({ kind }) => kind === 'mail').map(({ id, name }) => ({ id, name })),
    mailDomain: door.open ? door.domain : null,
    zones: Intl.supportedValuesOf('timeZone'),
  };
}

/** A page that is being made. */
const EMPTY = {
  ...PLAIN_SETTINGS,
  title: '',
  slug: '',
  intro: '',
  sections: [{ title: '', items: [], follows: null }] as Page['sections'],
};

/** A page as the form begins with it; watches that cannot come back leave it with the next save. */
export function pageValues(page: Page | null, known: ReadonlySet<number>) {
  let key = -1;
  const next = () => (key -= 1);
  const { title, slug, intro, sections, lead, ...rest } = page ?? EMPTY;
  const { logo, logoDark, favicon, cover, titleShown } = rest;
  const { theme, accent, letters, density, width, links, contact, footer, credit, css } = rest;
  const { language, zone, audience, listed, host, socialText, follow, pushes, copied, copyTo } = rest;
  return {
    ...{ title, slug, intro, theme, accent, letters, density, width, links, contact, footer, credit, css },
    ...{ logo, logoDark, favicon, cover, titleShown },
    ...{ language, zone, audience, listed, host, socialText, follow, pushes, copied, copyTo },
    ...{ password: '', copyPassword: '' },
    lead: lead && { words: lead.words, until: new Date(lead.until).toISOString() },
    sections: sections.map((section) => ({
      ...section,
      key: next(),
      items: section.items.flatMap((item) => {
        const watchIds = item.watchIds.filter((id) => known.has(id));
        return watchIds.length === 0 ? [] : [{ ...item, watchIds, key: next() }];
      }),
    })),
  };
}
