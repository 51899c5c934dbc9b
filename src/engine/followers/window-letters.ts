import { WINDOW_STAGES, type WindowStage } from '@/core/followers/letter';
import { announcedAt } from '@/core/maintenance/announced';
import { HOUR_MS } from '@/core/time/units';
import { transaction } from '@/store/db/connection';
import { countFollowers } from '@/store/followers/followers';
import { saveNewLetter, URGENCY } from '@/store/followers/letters';
import { fetchAnnounced, type MaintenanceWindow } from '@/store/maintenance/windows';
import { fetchPages } from '@/store/pages/pages';
import { fetchLabels, namesOn } from '@/store/pages/shown';
import type { Knex } from 'knex';

/** What is over for longer than this is not told any more. */
const LATE_MS = HOUR_MS;

/** How far a window has got for those who follow; null where there is nothing to tell yet. */
export function stageOf(window: MaintenanceWindow, now: number): WindowStage | null {
  if (window.ends <= now) return 'ends';
  if (window.begins <= now) return 'begins';
  return announcedAt(window) <= now ? 'ahead' : null;
}

/** Notes what followers are to be told of maintenance: ahead, when it begins, when it ends. Whether there was anything. */
export async function saveWindowLetters(db: Knex, now: number): Promise<boolean> {
  const pages = await fetchPages(db);
  const counts = await countFollowers(
    db,
    pages.map(({ id }) => id),
  );
  const followed = pages.filter(({ id }) => counts.get(id)!.follows > 0);
  if (followed.length === 0) return false;
  const windows = await fetchAnnounced(db, { since: now - LATE_MS, now });
  const due = windows.flatMap((window) => {
    const stage = stageOf(window, now);
    return stage === null ? [] : [{ window, stage }];
  });
  if (due.length === 0) return false;
  let any = false;
  for (const page of followed) {
    const known = new Set(
      await db('letters')
        .where({ page_id: page.id })
        .whereIn(
          'key',
          due.flatMap(({ window }) => WINDOW_STAGES.map((one) => `w${window.id}.${one}`)),
        )
        .pluck('key'),
    );
    const untold = due.filter(
      ({ window, stage }) =>
        !known.has(`w${window.id}.${stage}`) &&
        // Of what nobody was told that it began, nobody needs to hear that it is over.
        (stage !== 'ends' || known.has(`w${window.id}.begins`)),
    );
    if (untold.length === 0) continue;
    const labels = await fetchLabels(db, page);
    for (const { window, stage } of untold) {
      const named = namesOn(labels, window.covers);
      if (named.length === 0) continue;
      const { title, text, begins, ends } = window;
      const letter = {
        ...{ pageId: page.id, key: `w${window.id}.${stage}`, about: '', urgency: URGENCY.usual },
        facts: { kind: 'maintenance' as const, stage, title, text, labels: named, begins, ends },
        ...{ madeAt: now, dueAt: now },
      };
      any = (await transaction(db, (trx) => saveNewLetter(trx, letter))) || any;
    }
  }
  return any;
}
