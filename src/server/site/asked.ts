import Negotiator from 'negotiator';
import { LANGUAGE_CODES, type Language } from '@/core/languages/language';
import { LINE_DAYS, type LineDays } from '@/core/pages/page';
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
  | { what: 'live' }
  | { what: 'password' };

const MOST_WORDS = 100;

function chosenLanguage(query: URLSearchParams): Language | null {
  return LANGUAGE_CODES.find((code) => code === query.get('lang')) ?? null;
}

function chosenDays(query: URLSearchParams): LineDays {
  return LINE_DAYS.find((days) => String(days) === query.get('days')) ?? USUAL_DAYS;
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
