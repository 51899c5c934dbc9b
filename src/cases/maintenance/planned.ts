import { clashesOf, type Clash } from '@/core/maintenance/clash';
import type { Db } from '@/store/db/connection';
import { withCovered, type Coverage } from '@/store/maintenance/covering';
import { fetchWindows } from '@/store/maintenance/windows';
import { fetchSections } from '@/store/watches/sections';
import { fetchTags } from '@/store/watches/tags';
import { refused } from '@/cases/frame/refusal';
import type { Act } from '@/cases/frame/use-case';
import { refuseUnknownWatches } from '@/cases/pages/pages';

/** Fields a window and what recurs have in common. */
export interface PlanBody extends Coverage {
  title: string;
  text: string;
  announceDays: number;
}

/** Public pages show what is planned; the engine opens and closes the windows. */
export function touched(
  { about, afterwards, world }: Act,
  subject: { kind: 'window' | 'recurring window'; id: number; title: string },
): void {
  const { kind, id, title } = subject;
  about({ kind, id, name: title });
  afterwards(async () => {
    await world.engine.call('windowsChanged', {}).catch(() => undefined);
    await world.hub.emit('plans');
  });
}

/** Refuses what there is not. What stood there before may stay, though it was deleted since. */
export async function refuseUnknownCoverage(
  db: Db,
  { watchIds, sectionIds, tagIds }: Coverage,
  before: Coverage | null,
): Promise<void> {
  await refuseUnknownWatches(db, watchIds, 'watchIds', before?.watchIds);
  const check = async (
    field: 'sectionIds' | 'tagIds',
    what: string,
    ids: number[],
    all: () => Promise<{ id: number }[]>,
  ) => {
    if (ids.length === 0) return;
    const known = new Set([...(await all()).map(({ id }) => id), ...(before?.[field] ?? [])]);
    const unknown = ids.find((id) => !known.has(id));
    if (unknown !== undefined)
      throw refused([{ field, message: `Expected ${what} there is, got ${unknown}.` }]);
  };
  await check('sectionIds', 'a section', sectionIds, () => fetchSections(db));
  await check('tagIds', 'a tag', tagIds, () => fetchTags(db));
}

/** What is planned for the same watches at the same times already. */
export async function fetchClashes(
  db: Db,
  times: readonly { begins: number; ends: number }[],
  coverage: Coverage,
  own: { id: number | null; seriesId: number | null },
): Promise<{ clashes: Clash[]; watches: number }> {
  const covers = (await withCovered(db, [coverage]))[0]!.covers;
  if (times.length === 0) return { clashes: [], watches: covers.length };
  const since = Math.min(...times.map(({ begins }) => begins));
  const until = Math.max(...times.map(({ ends }) => ends));
  const others = await fetchWindows(db, since, until);
  return { clashes: clashesOf(times, covers, others, own), watches: covers.length };
}
