import type { Span } from '@/core/history/spans';
import type { LineDays } from '@/core/pages/page';
import { daySpan, type Day } from '@/core/pages/days';
import { dateAt, wallAt } from '@/core/time/zone-time';
import { DAY_MS } from '@/core/time/units';
import type { Db } from '@/store/db/connection';
import { fetchIncidentBegins, fetchIncidents } from '@/store/pages/incidents';
import type { Page } from '@/store/pages/pages';
import { fetchLabels, fetchShown } from '@/store/pages/shown';
import { lastDays } from '@/views/history/history';
import * as published from './public-incidents';
import { fetchPublicLines, type PublicSection } from './public-lines';

/** So many incidents that are over stand beside the lines; the diary has them all. */
const MOST_BESIDE = 8;
/** A month of the diary, and what a search finds, hold so many at most. */
const MOST_IN_DIARY = 500;
const MOST_IN_FEED = 100;
const MOST_COMING = 20;
/** A copy in a folder has sheets for so many incidents; the diary names them all. */
const MOST_SHEETS = 1000;

/** What every sheet of a page knows of it. */
export interface PublicFrame {
  page: Page;
  now: number;
  /** The page's own zone. */
  zone: string;
}

/** Everything a public page shows, and nothing else. */
export interface PublicPage extends PublicFrame {
  days: LineDays;
  range: Span;
  sections: PublicSection[];
  lookedAt: number | null;
  open: published.PublicIncident[];
  notices: published.PublicIncident[];
  /** Those of the range that are over, the newest first, as many as stand beside the lines. */
  past: published.PublicIncident[];
  coming: published.PublicWindow[];
}

export interface PublicDay extends PublicFrame {
  day: Day;
  /** Up to now where the day is not over. */
  range: Span;
  whole: Span;
  sections: PublicSection[];
  incidents: published.PublicIncident[];
  /** The first day there is history of. */
  first: Day;
}

export interface PublicDiary extends PublicFrame {
  /** "2026-11"; null where words are looked for. */
  month: string | null;
  words: string | null;
  incidents: published.PublicIncident[];
  /** Months with incidents, the newest first. */
  months: string[];
}

export interface PublicStory extends PublicFrame {
  incident: published.PublicIncident;
}

export function frameOf(page: Page, now: number, zone: string): PublicFrame {
  return { page, now, zone: page.zone ?? zone };
}

/** The page itself: its lines over so many days, and what visitors should know. */
export async function fetchPublicPage(
  db: Db,
  page: Page,
  {
    now,
    zone,
    days = 90,
    draft = null,
  }: { now: number; zone: string; days?: LineDays; draft?: published.PublicIncident | null },
): Promise<PublicPage> {
  const range = lastDays(now, days);
  const { sections, lookedAt, labels } = await fetchPublicLines(
    db,
    await fetchShown(db, page.sections),
    range,
    now,
  );
  const standing = await published.fetchStanding(db, page.id, now, labels);
  const past = await published.fetchOver(db, page.id, { since: range.from, limit: MOST_BESIDE }, labels);
  const coming = published
    .nextOfEach(await published.fetchComing(db, { since: now, now }, labels))
    .slice(0, MOST_COMING);
  // What is being written stands where it will stand.
  if (draft?.kind === 'notice') standing.notices.unshift(draft);
  else if (draft) standing.open.unshift(draft);
  return { ...frameOf(page, now, zone), days, range, sections, lookedAt, ...standing, past, coming };
}

/** The first day a page shows something of. */
function firstDay(now: number, zone: string): Day {
  return dateAt(now - 90 * DAY_MS, zone);
}

/** One day of a page, from midnight to midnight on its own clocks; null for a day it shows nothing of. */
export async function fetchPublicDay(
  db: Db,
  page: Page,
  day: Day,
  { now, zone: desk }: { now: number; zone: string },
): Promise<PublicDay | null> {
  const frame = frameOf(page, now, desk);
  const whole = daySpan(day, frame.zone);
  const first = firstDay(now, frame.zone);
  if (!whole || day < first || whole.from >= now) return null;
  const range = { from: whole.from, to: Math.min(whole.to, now) };
  const { sections, labels } = await fetchPublicLines(db, await fetchShown(db, page.sections), range, now);
  const span = { since: range.from, until: range.to, limit: MOST_IN_DIARY };
  const open = (await published.fetchStanding(db, page.id, now, labels)).open.filter(
    (one) => one.began < range.to,
  );
  const over = await published.fetchOver(db, page.id, span, labels);
  return { ...frame, day, range, whole, sections, incidents: [...open, ...over], first };
}

/** When a month ("2026-11") lasts in a zone; null for what is none. */
function monthSpan(month: string, zone: string): Span | null {
  const [, year, number] = /^(\d{4})-(\d\d)$/.exec(month) ?? [];
  if (!year || Number(number) < 1 || Number(number) > 12) return null;
  const next = new Date(Date.UTC(Number(year), Number(number), 1)).toISOString().slice(0, 7);
  const [from, to] = [daySpan(`${month}-01`, zone), daySpan(`${next}-01`, zone)];
  return from && to ? { from: from.from, to: to.from } : null;
}

async function fetchMonths(db: Db, page: Page, zone: string): Promise<string[]> {
  const months = (await fetchIncidentBegins(db, page.id)).map((at) => {
    const { year, month } = wallAt(at, zone);
    return `${year}-${String(month).padStart(2, '0')}`;
  });
  return [...new Set(months)];
}

/** Which months and incidents a page has sheets for, the newest first. */
export async function fetchSheetNames(db: Db, page: Page, zone: string) {
  const incidents = await fetchIncidents(db, { pageId: page.id }, { limit: MOST_SHEETS });
  return { months: await fetchMonths(db, page, zone), incidents: incidents.map(({ id }) => id) };
}

/** The diary: incidents of a month, the present one where none is named, or those that hold some words. */
export async function fetchPublicDiary(
  db: Db,
  page: Page,
  wanted: { month: string | null; words: string | null },
  { now, zone: desk }: { now: number; zone: string },
): Promise<PublicDiary | null> {
  const frame = frameOf(page, now, desk);
  const labels = await fetchLabels(db, page);
  const months = await fetchMonths(db, page, frame.zone);
  if (wanted.words !== null) {
    const incidents = await published.fetchOver(db, page.id, { limit: MOST_IN_DIARY }, labels, wanted.words);
    return { ...frame, month: null, words: wanted.words, incidents, months };
  }
  const month = wanted.month ?? months[0] ?? dateAt(now, frame.zone).slice(0, 7);
  const span = monthSpan(month, frame.zone);
  if (!span) return null;
  const all = await published.fetchOver(
    db,
    page.id,
    { since: span.from, until: span.to, limit: MOST_IN_DIARY },
    labels,
  );
  // One that began before stands in the month it began in.
  return { ...frame, month, words: null, incidents: all.filter((one) => one.began >= span.from), months };
}

/** One incident of a page with all it says. */
export async function fetchPublicStory(
  db: Db,
  page: Page,
  id: number,
  { now, zone }: { now: number; zone: string },
): Promise<PublicStory | null> {
  const incident = await published.fetchPublicIncident(db, page.id, id, now, await fetchLabels(db, page));
  return incident && { ...frameOf(page, now, zone), incident };
}

/** What the feeds and the calendar of a page tell: what stands, what was of late, and maintenance of a month around now. */
export async function fetchPublicFeed(db: Db, page: Page, { now, zone }: { now: number; zone: string }) {
  const labels = await fetchLabels(db, page);
  const { open, notices } = await published.fetchStanding(db, page.id, now, labels);
  const past = await published.fetchOver(
    db,
    page.id,
    { since: now - 90 * DAY_MS, limit: MOST_IN_FEED },
    labels,
  );
  const windows = await published.fetchComing(db, { since: now - 30 * DAY_MS, now }, labels);
  return { ...frameOf(page, now, zone), incidents: [...open, ...notices, ...past], windows };
}
