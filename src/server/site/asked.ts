import Negotiator from 'negotiator';
import { LANGUAGE_CODES, type Language } from '@/core/languages/language';
import { BADGE_SHOWS } from '@/core/pages/badge';
import { LINE_DAYS, THEMES, type LineDays, type PageLook } from '@/core/pages/page';
import { PICTURE_NAME } from '@/core/pages/picture';
import { BADGE_LIGHTS, BADGE_SHAPES, BADGE_TYPES, type BadgeType, type BadgeWish } from '@/site/files/badge';
import type { LinkPurpose } from '@/store/followers/follow-links';
import type { SheetAddress } from '@/site/frame/place';
import { USUAL_DAYS } from '@/site/frame/place';

/** The files of a page, by what they are called. */
export const PAGE_FILES = [
  'feed.atom',
  'feed.json',
  'maintenance.ics',
  'state.json',
  'state.schema.json',
  'metrics',
] as const;
export type PageFile = (typeof PAGE_FILES)[number];

/** What of a page is asked for, by the part of the address behind it. */
export type Asked =
  | { what: 'sheet'; address: SheetAddress; words: string | null; chosen: Language | null }
  | { what: 'file'; file: PageFile }
  | { what: 'asset'; name: string }
  | { what: 'look'; name: string }
  | { what: 'picture'; name: string }
  | { what: 'social' }
  | { what: 'badge'; of: string; as: BadgeType; wish: BadgeWish; days: LineDays; chosen: Language | null }
  | { what: 'embed'; light: PageLook['theme']; chosen: Language | null }
  | { what: 'near'; day: 'today' | 'yesterday' }
  | { what: 'bar' }
  | { what: 'live' }
  | { what: 'password' }
  /** How one is told by mail: asking for it, and what the links in letters lead to. */
  | { what: 'follow'; step: 'ask'; chosen: Language | null }
  | { what: 'follow'; step: 'push'; chosen: null }
  | { what: 'worker' }
  | { what: 'follow'; step: LinkPurpose; token: string; chosen: Language | null };

const MOST_WORDS = 100;

function chosenLanguage(query: URLSearchParams): Language | null {
  return LANGUAGE_CODES.find((code) => code === query.get('lang')) ?? null;
}

function chosenDays(query: URLSearchParams): LineDays {
  return LINE_DAYS.find((days) => String(days) === query.get('days')) ?? USUAL_DAYS;
}

function oneOf<T extends string>(values: readonly T[], value: string | null): T {
  return values.find((one) => one === value) ?? values[0]!;
}

const MOST_LABEL = 60;

/** How a badge is to look: what stands in a query counts as far as it is known, and as the usual where it is not. */
export function readBadge(query: URLSearchParams): {
  wish: BadgeWish;
  days: LineDays;
  chosen: Language | null;
} {
  const size = Number(query.get('size') ?? 1);
  const wish: BadgeWish = {
    shows: oneOf(BADGE_SHOWS, query.get('shows')),
    // Control characters have no place in XML.
    label: (query.get('label') ?? '').replace(/[\u0000-\u001f\u007f]/g, '').slice(0, MOST_LABEL),
    light: oneOf(BADGE_LIGHTS, query.get('light')),
    shape: oneOf(BADGE_SHAPES, query.get('shape')),
    ground: /^[\da-f]{6}$/i.test(query.get('ground') ?? '') ? `#${query.get('ground')}` : null,
    size: size >= 1 && size <= 4 ? size : 1,
  };
  return { wish, days: chosenDays(query), chosen: chosenLanguage(query) };
}

function sheetAt(path: string, query: URLSearchParams): SheetAddress | null {
  if (path === '') return { sheet: 'page', days: chosenDays(query) };
  if (path === 'diary') return { sheet: 'diary', month: null };
  const [, kind, which = ''] = /^(day|diary|incident)\/([\d-]{1,10})$/.exec(path) ?? [];
  if (kind === 'day' && /^\d{4}-\d\d-\d\d$/.test(which)) return { sheet: 'day', day: which };
  if (kind === 'diary' && /^\d{4}-\d\d$/.test(which)) return { sheet: 'diary', month: which };
  if (kind === 'incident' && /^[1-9]\d{0,9}$/.test(which)) return { sheet: 'incident', id: Number(which) };
  return null;
}

/** Reads what is asked for; null for what no page has. Anything else in a query counts for nothing. */
export function readAsked(path: string, query: URLSearchParams): Asked | null {
  if (path === 'live' || path === 'password') return { what: path };
  if (path === 'follow') return { what: 'follow', step: 'ask', chosen: chosenLanguage(query) };
  if (path === 'follow/push') return { what: 'follow', step: 'push', chosen: null };
  if (path === 'push.js') return { what: 'worker' };
  const [, step, token = ''] = /^follow\/(yes|own|off)\/([\w.-]{1,300})$/.exec(path) ?? [];
  if (step) {
    return { what: 'follow', step: step as LinkPurpose, token, chosen: chosenLanguage(query) };
  }
  if (path === 'day/today') return { what: 'near', day: 'today' };
  if (path === 'day/yesterday') return { what: 'near', day: 'yesterday' };
  if (path === 'bar.js') return { what: 'bar' };
  if (path === 'embed') {
    return { what: 'embed', light: oneOf(THEMES, query.get('light')), chosen: chosenLanguage(query) };
  }
  // Of the page ("page"), of a section ("2"), or of a line ("2-1").
  const [, of, type] = /^badge\/(page|[1-9]\d?(?:-[1-9]\d{0,2})?)\.(svg|png)$/.exec(path) ?? [];
  if (of) return { what: 'badge', of, as: oneOf(BADGE_TYPES, type ?? null), ...readBadge(query) };
  const [, picture] = /^picture\/(.+)$/s.exec(path) ?? [];
  if (picture) return PICTURE_NAME.test(picture) ? { what: 'picture', name: picture } : null;
  if (path === 'social.png') return { what: 'social' };
  const file = PAGE_FILES.find((name) => name === path);
  if (file) return { what: 'file', file };
  const [, asset] = /^assets\/([\w.-]{1,100})$/.exec(path) ?? [];
  if (asset) return { what: 'asset', name: asset };
  if (/^look-[\w-]{1,30}\.css$/.test(path)) return { what: 'look', name: path };
  const address = sheetAt(path, query);
  if (!address) return null;
  const words = address.sheet === 'diary' ? (query.get('words')?.trim().slice(0, MOST_WORDS) ?? '') : '';
  return { what: 'sheet', address, words: words || null, chosen: chosenLanguage(query) };
}

/** The language a visitor reads best of those that ship; the page's own where none of theirs is there. */
export function languageFor(acceptLanguage: string | undefined, own: Language): Language {
  if (!acceptLanguage) return own;
  const negotiator = new Negotiator({ headers: { 'accept-language': acceptLanguage } });
  // The page's own comes first, for visitors who take any.
  const offered = [own, ...LANGUAGE_CODES.filter((code) => code !== own)];
  return (negotiator.language(offered) as Language | undefined) ?? own;
}
