import type { Knex } from 'knex';
import type { LetterFacts } from '@/core/followers/letter';
import { deleteUnspread, fetchToldPages, saveNewLetter, URGENCY } from '@/store/followers/letters';
import type { MaintenanceWindow } from '@/store/maintenance/windows';
import { fetchPage } from '@/store/pages/pages';
import { fetchLabels, namesOn } from '@/store/pages/shown';

/** Followers who were told ahead of a window hear that it was moved, or does not come. What has begun is no plan any more. */
export async function tellWindowChange(
  trx: Knex.Transaction,
  window: MaintenanceWindow,
  stage: 'moved' | 'off',
  now: number,
): Promise<void> {
  if (window.begins <= now) return;
  // What has not gone out need not be taken back: it is said anew, as it is now.
  await deleteUnspread(trx, `w${window.id}.`);
  const { id, title, text, covers, begins, ends } = window;
  for (const pageId of await fetchToldPages(trx, `w${id}.ahead`)) {
    const page = await fetchPage(trx, pageId);
    const named = page ? await fetchLabels(trx, page) : new Map<number, string>();
    const labels = namesOn(named, covers);
    const facts: LetterFacts = { kind: 'maintenance', stage, title, text, labels, begins, ends };
    await saveNewLetter(trx, {
      ...{ pageId, key: `w${id}.${stage}.${now}`, facts, about: '' },
      ...{ urgency: URGENCY.usual, madeAt: now, dueAt: now },
    });
  }
}
