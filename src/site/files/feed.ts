import { escapeUTF8 } from 'entities';
import { Feed } from 'feed';
import type { Language } from '@/core/languages/language';
import { LOCALES } from '@/core/languages/moments';
import { pageSpeechOf } from '@/core/languages/page-speech';
import { plainMarkdown, renderMarkdown } from '@/core/text/markdown';
import { writable } from '@/core/text/writable';
import { entryId } from './entry-id';
import type { PublicIncident, PublicWindow } from '@/views/pages/public-incidents';
import type { Page } from '@/store/pages/pages';

/** What the feeds and the calendar of a page tell. */
export interface FeedView {
  page: Page;
  now: number;
  zone: string;
  /** Incidents and notices, open ones too, the newest first. */
  incidents: PublicIncident[];
  windows: PublicWindow[];
}

export interface FeedPlace {
  language: Language;
  /** Where the page begins, with a slash at its end: readers of feeds need whole addresses. */
  base: string;
}

function changedAt({ began, updates }: PublicIncident): number {
  return Math.max(began, ...updates.flatMap(({ at, correctedAt }) => [at, correctedAt ?? 0]));
}

function contentOf(incident: PublicIncident, zone: string, language: Language): string {
  const speech = pageSpeechOf(language);
  const updates = incident.updates.map(({ at, stage, body }) => {
    const head = incident.kind === 'incident' ? `<strong>${speech.say(`stage.${stage}`)}.</strong> ` : '';
    return `<p>${speech.at(at, zone, 'moment')} ${head}</p>${renderMarkdown(body)}`;
  });
  return [...(incident.account ? [renderMarkdown(incident.account)] : []), ...updates].join('\n');
}

/** `text` makes words fit for a place where marks mean something. */
function feedOf(
  { page, zone, incidents, windows }: FeedView,
  { language, base }: FeedPlace,
  text: (words: string) => string,
): Feed {
  const speech = pageSpeechOf(language);
  const entries = [
    ...incidents.map((incident) => ({ at: changedAt(incident), incident, window: null })),
    ...windows.map((window) => ({ at: window.announcedAt, incident: null, window })),
  ].sort((a, b) => b.at - a.at);
  const feed = new Feed({
    id: entryId(page),
    title: page.title,
    description: page.intro || page.title,
    link: base,
    language: LOCALES[language],
    copyright: page.title,
    updated: new Date(entries[0]?.at ?? page.createdAt),
    generator: 'Calm Lantern',
    feedLinks: { atom: `${base}feed.atom`, json: `${base}feed.json` },
    author: { name: page.title },
  });
  for (const { at, incident, window } of entries) {
    if (incident) {
      const part = `incident/${incident.id}`;
      feed.addItem({
        id: entryId(page, part),
        link: `${base}${part}`,
        title: text(incident.title),
        date: new Date(at),
        published: new Date(incident.began),
        description: text(plainMarkdown(incident.updates[0]?.body ?? '')),
        content: contentOf(incident, zone, language),
      });
    } else if (window) {
      const span = speech.say('coming.span', {
        from: speech.at(window.begins, zone, 'moment'),
        to: speech.at(window.ends, zone, 'moment'),
      });
      const about = [span, speech.list(window.labels)].filter(Boolean).join(' · ');
      feed.addItem({
        id: entryId(page, `maintenance/${window.id}`),
        link: base,
        title: text(window.title),
        date: new Date(at),
        description: text([about, plainMarkdown(window.text)].filter(Boolean).join(' · ')),
        content: `<p>${escapeUTF8(about)}</p>${renderMarkdown(window.text)}`,
      });
    }
  }
  return feed;
}

/** RFC 4287. */
export function atomFeed(view: FeedView, place: FeedPlace): string {
  // It says of titles and summaries that they are HTML.
  return writable(feedOf(view, place, escapeUTF8).atom1());
}

/** JSON Feed 1.1 has another version line and a list of authors; the package writes 1.0. */
export function jsonFeed(view: FeedView, place: FeedPlace): string {
  const { author, ...feed } = JSON.parse(feedOf(view, place, (words) => words).json1()) as {
    author?: object;
  } & Record<string, unknown>;
  return JSON.stringify(
    { ...feed, version: 'https://jsonfeed.org/version/1.1', ...(author && { authors: [author] }) },
    null,
    1,
  );
}
