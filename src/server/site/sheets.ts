import type { Knex } from 'knex';
import type { Language } from '@/core/languages/language';
import type { Page } from '@/store/pages/pages';
import { maintenanceCalendar } from '@/site/files/calendar';
import { atomFeed, jsonFeed, type FeedPlace } from '@/site/files/feed';
import { metricsFile, stateFile, stateSchema } from '@/site/files/state';
import type { Place, SheetAddress } from '@/site/frame/place';
import { renderEmbed, renderDay, renderDiary, renderPage, renderStory, type Drawing } from '@/site/render';
import type { PublicIncident } from '@/views/pages/public-incidents';
import {
  fetchPublicDay,
  fetchPublicDiary,
  fetchPublicFeed,
  fetchPublicPage,
  fetchPublicStory,
} from '@/views/pages/public-page';
import { pageSpeechOf } from '@/core/languages/page-speech';
import type { LineDays } from '@/core/pages/page';
import { DAY_MS } from '@/core/time/units';
import { badgeSvg, type BadgeWish } from '@/site/files/badge';
import { fetchShown } from '@/store/pages/shown';
import { fetchPublicLines } from '@/views/pages/public-lines';
import type { PageFile } from './asked';
import type { Drawn } from './copies';

export interface SheetsWorld {
  db: Knex;
  /** Wall-clock time. */
  now: () => number;
  /** The desk's zone. */
  zone: string;
  assets: (name: string) => string;
  lookFile: (page: Page) => string | null;
}

export interface SheetWish {
  address: SheetAddress;
  /** What is looked for in a diary. */
  words: string | null;
  language: Language;
  place: Place;
  madeAt: number | null;
  /** An incident that is being written. */
  draft?: PublicIncident | null;
}

const HTML = 'text/html; charset=utf-8';

/** Draws a sheet of a page; null where there is no such day, month or incident. */
export async function drawSheet(
  { db, now, zone, assets, lookFile }: SheetsWorld,
  page: Page,
  { address, words, language, place, madeAt, draft = null }: SheetWish,
): Promise<Drawn | null> {
  const at = { now: now(), zone };
  const drawing: Drawing = { language, place, assets, lookFile: lookFile(page), madeAt };
  switch (address.sheet) {
    case 'page': {
      const view = await fetchPublicPage(db, page, { ...at, days: address.days, draft });
      return { type: HTML, body: renderPage(view, drawing) };
    }
    case 'day': {
      const view = await fetchPublicDay(db, page, address.day, at);
      return view && { type: HTML, body: renderDay(view, drawing) };
    }
    case 'diary': {
      const view = await fetchPublicDiary(db, page, { month: address.month, words }, at);
      return view && { type: HTML, body: renderDiary(view, drawing) };
    }
    case 'incident': {
      const view = await fetchPublicStory(db, page, address.id, at);
      return view && { type: HTML, body: renderStory(view, drawing) };
    }
  }
}

export interface BadgeAsk {
  of: string;
  wish: BadgeWish;
  days: LineDays;
  language: Language;
}

/** Draws a badge; null where the page has no such line or section, or shows of it no more than its state. */
export async function drawBadge(
  { db, now }: SheetsWorld,
  page: Page,
  { of, wish, days, language }: BadgeAsk,
): Promise<Drawn | null> {
  const at = now();
  const shown = await fetchShown(db, page.sections);
  const [section, line] = of === 'page' ? [] : of.split('-').map(Number);
  const wanted = shown.map(({ title, items }, i) => {
    const here = section === undefined || i + 1 === section;
    const some = items.map((item, k) => (here && (line === undefined || k + 1 === line) ? item : null));
    return { title, items: some.filter((item) => item !== null) };
  });
  const found = await fetchPublicLines(db, wanted, { from: at - days * DAY_MS, to: at }, at);
  const rows = found.sections.flatMap((one) => one.rows);
  const closed = rows.some(({ shows }) => shows === 'state' || (wish.shows === 'time' && shows !== 'times'));
  if (rows.length === 0 || (closed && wish.shows !== 'state')) return null;
  const name =
    line !== undefined ? rows[0]!.label : (section !== undefined && shown[section - 1]?.title) || page.title;
  const facts = { rows, days, now: at };
  return { type: 'image/svg+xml', body: badgeSvg(facts, wish, name, pageSpeechOf(language)) };
}

export interface EmbedAsk {
  light: Page['theme'];
  language: Language;
}

/** Draws the page for a frame of somebody else's. */
export async function drawEmbed(
  { db, now, zone, assets, lookFile }: SheetsWorld,
  page: Page,
  { light, language }: EmbedAsk,
): Promise<Drawn> {
  const lit: Page = light === 'both' ? page : { ...page, theme: light };
  const view = await fetchPublicPage(db, lit, { now: now(), zone });
  const place: Place = { root: './', chosen: null, filed: false, live: false };
  return {
    type: HTML,
    body: renderEmbed(view, { language, place, assets, lookFile: lookFile(page), madeAt: null }),
  };
}

/** Draws a file of a page. */
export async function drawFile(
  { db, now, zone }: SheetsWorld,
  page: Page,
  file: PageFile,
  place: FeedPlace,
): Promise<Drawn> {
  const at = { now: now(), zone };
  switch (file) {
    case 'feed.atom':
      return {
        type: 'application/atom+xml; charset=utf-8',
        body: atomFeed(await fetchPublicFeed(db, page, at), place),
      };
    case 'feed.json':
      return {
        type: 'application/feed+json; charset=utf-8',
        body: jsonFeed(await fetchPublicFeed(db, page, at), place),
      };
    case 'maintenance.ics':
      return {
        type: 'text/calendar; charset=utf-8',
        body: maintenanceCalendar(await fetchPublicFeed(db, page, at), place),
      };
    case 'state.json':
      return {
        type: 'application/json; charset=utf-8',
        body: stateFile(await fetchPublicPage(db, page, at), place),
      };
    case 'state.schema.json':
      return {
        type: 'application/schema+json; charset=utf-8',
        body: JSON.stringify(stateSchema(place.base), null, 1),
      };
    case 'metrics':
      return {
        type: 'application/openmetrics-text; version=1.0.0; charset=utf-8',
        body: metricsFile(await fetchPublicPage(db, page, at)),
      };
  }
}
