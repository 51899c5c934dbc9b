import type { Knex } from 'knex';
import { pageAddress } from '@/core/pages/page-address';
import type { Language } from '@/core/languages/language';
import type { Page } from '@/store/pages/pages';
import { maintenanceCalendar } from '@/site/files/calendar';
import { atomFeed, jsonFeed, type FeedPlace } from '@/site/files/feed';
import { metricsFile, stateFile, stateSchema } from '@/site/files/state';
import type { Letters } from '@/site/pictures/letters';
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
import type { PageFile } from './asked';
import type { Drawn } from './copying/copies';

export interface SheetsWorld {
  db: Knex;
  /** Wall-clock time. */
  now: () => number;
  /** The desk's zone. */
  zone: string;
  assets: (name: string) => string;
  lookFile: (page: Page) => string | null;
  /** What pictures are written with. */
  letters: Letters;
  /** The address the desk goes by, without a slash at its end; null where none is set. */
  baseUrl: string | null;
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

/** Where a page is found by those who only see a link to it; null where nobody said so. */
function wholeAddress(page: Page, baseUrl: string | null): string | null {
  return baseUrl === null && page.host === null ? null : pageAddress(baseUrl ?? 'https://', page);
}

/** Draws a sheet of a page; null where there is no such day, month or incident. */
export async function drawSheet(
  { db, now, zone, assets, lookFile, baseUrl }: SheetsWorld,
  page: Page,
  { address, words, language, place, madeAt, draft = null }: SheetWish,
): Promise<Drawn | null> {
  const at = { now: now(), zone };
  const whole = place.filed ? (page.copyTo?.address ?? null) : wholeAddress(page, baseUrl);
  const drawing: Drawing = { language, place, assets, lookFile: lookFile(page), madeAt, whole };
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
    body: renderEmbed(view, { language, place, assets, lookFile: lookFile(page), madeAt: null, whole: null }),
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
