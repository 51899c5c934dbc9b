import type { Language } from '@/core/languages/language';
import { pageSpeechOf } from '@/core/languages/page-speech';
import type { LineDays } from '@/core/pages/page';
import { DAY_MS } from '@/core/time/units';
import { badgeSvg, type BadgeType, type BadgeWish } from '@/site/files/badge';
import { pngOf } from '@/site/pictures/raster';
import { socialSvg } from '@/site/pictures/social';
import type { Page } from '@/store/pages/pages';
import { fetchBadgeBySecret, fetchBadgeName, fetchBadgeShown } from '@/store/pages/private-badges';
import { fetchShown, type ShownSection } from '@/store/pages/shown';
import { fetchPublicLines, type PublicRow } from '@/views/pages/public-lines';
import { fetchPublicPage } from '@/views/pages/public-page';
import type { Drawn } from '@/server/site/copying/copies';
import type { SheetsWorld } from '@/server/site/sheets';

export interface BadgeLook {
  as: BadgeType;
  wish: BadgeWish;
  days: LineDays;
  language: Language;
}

export interface BadgeAsk extends BadgeLook {
  of: string;
}

export interface PrivateBadgeAsk extends BadgeLook {
  secret: string;
}

async function fetchRows(
  { db }: SheetsWorld,
  shown: readonly ShownSection[],
  days: LineDays,
  at: number,
): Promise<PublicRow[]> {
  const found = await fetchPublicLines(db, shown, { from: at - days * DAY_MS, to: at }, at);
  return found.sections.flatMap((one) => one.rows);
}

/** All of a badge is told of one moment: a line that ends then has not ended before. */
async function drawnBadge(
  { letters }: SheetsWorld,
  { rows, name, at }: { rows: PublicRow[]; name: string; at: number },
  { as, wish, days, language }: BadgeLook,
): Promise<Drawn> {
  const facts = { rows, days, now: at };
  const speech = pageSpeechOf(language);
  if (as === 'svg') return { type: 'image/svg+xml', body: badgeSvg(facts, wish, name, speech) };
  // A picture of dots cannot follow the light of whoever sees it.
  const lit: BadgeWish = wish.light === 'both' ? { ...wish, light: 'light' } : wish;
  return { type: 'image/png', body: await pngOf(badgeSvg(facts, lit, name, speech, letters)) };
}

/** Draws a badge; null where the page has no such line or section, or shows of it no more than its state. */
export async function drawBadge(world: SheetsWorld, page: Page, ask: BadgeAsk): Promise<Drawn | null> {
  const { of, wish } = ask;
  const shown = await fetchShown(world.db, page.sections);
  const [section, line] = of === 'page' ? [] : of.split('-').map(Number);
  const wanted = shown.map(({ title, items }, i) => {
    const here = section === undefined || i + 1 === section;
    const some = items.map((item, k) => (here && (line === undefined || k + 1 === line) ? item : null));
    return { title, items: some.filter((item) => item !== null) };
  });
  const at = world.now();
  const rows = await fetchRows(world, wanted, ask.days, at);
  const closed = rows.some(({ shows }) => shows === 'state' || (wish.shows === 'time' && shows !== 'times'));
  if (rows.length === 0 || (closed && wish.shows !== 'state')) return null;
  const name =
    line !== undefined ? rows[0]!.label : (section !== undefined && shown[section - 1]?.title) || page.title;
  return drawnBadge(world, { rows, name, at }, ask);
}

/** Draws what is found by a secret alone; null where there is no such badge, or nothing it stands for. */
export async function drawPrivateBadge(world: SheetsWorld, ask: PrivateBadgeAsk): Promise<Drawn | null> {
  const badge = await fetchBadgeBySecret(world.db, ask.secret);
  const name = badge && (await fetchBadgeName(world.db, badge));
  if (!badge || name === null) return null;
  const at = world.now();
  const rows = await fetchRows(world, await fetchBadgeShown(world.db, badge, name), ask.days, at);
  return rows.length === 0 ? null : drawnBadge(world, { rows, name, at }, ask);
}

/** Draws what other sites show of a page's address: how it stands now. */
export async function drawSocial(world: SheetsWorld, page: Page): Promise<Drawn> {
  const { db, now, zone, letters } = world;
  const view = await fetchPublicPage(db, page, { now: now(), zone });
  return { type: 'image/png', body: await pngOf(socialSvg(view, letters)) };
}
