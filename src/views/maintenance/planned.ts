import { monthGrid, type MonthGrid } from '@/core/maintenance/month';
import { ruleInWords } from '@/core/maintenance/recurrence';
import type { Db } from '@/store/db/connection';
import type { Coverage } from '@/store/maintenance/covering';
import { fetchSeries } from '@/store/maintenance/series';
import { fetchWindows, type MaintenanceWindow } from '@/store/maintenance/windows';
import { fetchSections } from '@/store/watches/sections';
import { fetchTags } from '@/store/watches/tags';
import { fetchPickable } from '@/store/watches/pickable';
import { fetchWatchNames } from '@/store/watches/watch-facts';

/** So many of what is planned stand in the list; the month shows the others. */
const MOST_LISTED = 60;
const MOST_NAMED = 5;

export interface PlannedWindow {
  id: number;
  title: string;
  begins: number;
  ends: number;
  /** What it is for, in words. */
  about: string;
  seriesId: number | null;
}

export interface PlannedSeries {
  id: number;
  title: string;
  inWords: string;
  zone: string;
  first: string;
  lastsMinutes: number;
  about: string;
  nextAt: number | null;
}

/** What can be chosen for maintenance. */
export interface CoverageChoices {
  watches: { id: number; name: string }[];
  sections: { id: number; name: string }[];
  tags: { id: number; name: string }[];
}

export async function fetchCoverageChoices(db: Db, chosen: readonly number[] = []): Promise<CoverageChoices> {
  return {
    watches: await fetchPickable(db, chosen),
    sections: (await fetchSections(db)).map(({ id, name }) => ({ id, name })),
    tags: (await fetchTags(db)).map(({ id, name }) => ({ id, name })),
  };
}

/** What maintenance is for: its sections, its tags, and as many names as one reads. */
async function makeAbout(db: Db, all: readonly Coverage[]): Promise<(one: Coverage) => string> {
  const named = await fetchWatchNames(db, [
    ...new Set(all.flatMap((one) => one.watchIds.slice(0, MOST_NAMED))),
  ]);
  const sections = new Map((await fetchSections(db)).map(({ id, name }) => [id, name]));
  const tags = new Map((await fetchTags(db)).map(({ id, name }) => [id, name]));
  return ({ watchIds, sectionIds, tagIds }) => {
    const names = watchIds.slice(0, MOST_NAMED).flatMap((id) => named.get(id) ?? []);
    const more = watchIds.length - MOST_NAMED;
    const parts = [
      ...sectionIds.map((id) => `all of ${sections.get(id) ?? 'a section that has gone'}`),
      ...tagIds.map((id) => `all tagged ${tags.get(id) ?? 'with a tag that has gone'}`),
      ...names,
      ...(more > 0 ? [`${more} more`] : []),
    ];
    return parts.join(', ') || 'no watch any more';
  };
}

const shown = (
  { id, title, begins, ends, seriesId, ...coverage }: MaintenanceWindow,
  about: (one: Coverage) => string,
): PlannedWindow => ({ id, title, begins, ends, seriesId, about: about(coverage) });

export interface MaintenanceView {
  running: PlannedWindow[];
  /** What comes again stands here with its next time only. */
  coming: PlannedWindow[];
  more: number;
  series: PlannedSeries[];
  grid: MonthGrid;
  /** What lies in the month that is shown, the earliest first. */
  inMonth: PlannedWindow[];
}

/** What is under way and planned, what comes again, and one month of it. */
export async function fetchMaintenance(
  db: Db,
  { now, month, zone }: { now: number; month: string; zone: string },
): Promise<MaintenanceView> {
  const planned = await fetchWindows(db, now);
  const grid = monthGrid(month, now, zone);
  const inMonth = await fetchWindows(db, grid.from, grid.until);
  const series = await fetchSeries(db);
  const about = await makeAbout(db, [...planned, ...inMonth, ...series]);
  const seen = new Set<number>();
  const coming = planned.filter(({ begins, seriesId }) => {
    if (begins <= now) return false;
    if (seriesId === null) return true;
    if (seen.has(seriesId)) return false;
    seen.add(seriesId);
    return true;
  });
  return {
    running: planned.filter(({ begins }) => begins <= now).map((window) => shown(window, about)),
    coming: coming.slice(0, MOST_LISTED).map((window) => shown(window, about)),
    more: Math.max(0, coming.length - MOST_LISTED),
    series: series.map(({ id, title, rule, zone: place, first, lastsMinutes, ...coverage }) => ({
      ...{ id, title, first, lastsMinutes },
      zone: place,
      inWords: ruleInWords(rule),
      about: about(coverage),
      nextAt: planned.find((window) => window.seriesId === id && window.begins > now)?.begins ?? null,
    })),
    grid,
    inMonth: inMonth.map((window) => shown(window, about)),
  };
}
