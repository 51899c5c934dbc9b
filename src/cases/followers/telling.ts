import type { LetterFacts } from '@/core/followers/letter';
import type { Act } from '@/cases/frame/use-case';
import { countFollowers } from '@/store/followers/followers';
import {
  deleteUnspread,
  fetchUnspread,
  saveLetterFacts,
  saveNewLetter,
  UNDO_MS,
  URGENCY,
} from '@/store/followers/letters';
import { publicIncident } from '@/views/pages/public-incidents';
import type { Incident } from '@/store/pages/incidents';
import { fetchPage } from '@/store/pages/pages';
import { fetchLabels } from '@/store/pages/shown';
import type { Db } from '@/store/db/connection';

const keyOf = (incidentId: number) => `i${incidentId}.`;

const wake = ({ afterwards, world }: Act) =>
  afterwards(() => world.engine.call('lettersChanged', {}).catch(() => undefined));

/** What followers of a page read of an update. */
function factsOf(
  incident: Incident,
  updateId: number,
  labels: ReadonlyMap<number, string>,
): LetterFacts | null {
  const update = incident.updates.find(({ id }) => id === updateId);
  if (!update) return null;
  const { kind, title, affected } = publicIncident(incident, labels);
  const { stage, body, at } = update;
  return { kind: 'incident', notice: kind === 'notice', title, stage, body, at, affected };
}

async function labelsOf(db: Db, pageId: number): Promise<Map<number, string>> {
  const page = await fetchPage(db, pageId);
  return page ? fetchLabels(db, page) : new Map<number, string>();
}

/** Notes that followers are to be told of the newest update, half a minute from now: till then it can be taken back. */
export async function tellFollowers(act: Act, incident: Incident): Promise<void> {
  const { trx, now } = act;
  const [update] = incident.updates;
  if (!update) return;
  const counts = await countFollowers(trx, incident.pageIds);
  for (const pageId of incident.pageIds) {
    if (counts.get(pageId)!.follows === 0) continue;
    const facts = factsOf(incident, update.id, await labelsOf(trx, pageId));
    if (!facts) continue;
    await saveNewLetter(trx, {
      ...{ pageId, key: `${keyOf(incident.id)}${update.id}`, facts, about: `incident/${incident.id}` },
      urgency: incident.kind === 'notice' ? URGENCY.usual : URGENCY.trouble,
      ...{ madeAt: now, dueAt: now + UNDO_MS },
    });
  }
  wake(act);
}

/** What was put right within the half minute goes out as it stands now. */
export async function refreshLetters({ trx }: Act, incident: Incident): Promise<void> {
  for (const letter of await fetchUnspread(trx, keyOf(incident.id))) {
    const updateId = Number(letter.key.slice(keyOf(incident.id).length));
    const facts = factsOf(incident, updateId, await labelsOf(trx, letter.pageId));
    if (facts) await saveLetterFacts(trx, letter.id, facts);
  }
}

/** Nothing of it goes out that has not begun to; how many letters that were. */
export function takeBack(trx: Parameters<typeof deleteUnspread>[0], incidentId: number): Promise<number> {
  return deleteUnspread(trx, keyOf(incidentId));
}

/** What of an incident is still to be told, and when. */
export function fetchUntold(db: Db, incidentId: number) {
  return fetchUnspread(db, keyOf(incidentId));
}
