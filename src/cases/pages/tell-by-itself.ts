import { fillPublicText, valuesOf, type PublicText } from '@/core/pages/public-text';
import { MINUTE_MS } from '@/core/time/units';
import type { Principal } from '@/cases/frame/principal';
import { asIs, changes, type Act } from '@/cases/frame/use-case';
import { refreshLetters, tellFollowers } from '@/cases/followers/telling';
import * as incidents from '@/store/pages/incidents';
import { fetchPages, type Page } from '@/store/pages/pages';
import * as store from '@/store/pages/public-texts';
import { fetchLabels } from '@/store/pages/shown';
import { foundIncident } from './incidents';
import { placeOn } from './public-texts';
import { mayBeTold } from './told-inside';

/** The house itself: it tells the public what sections were set to tell. */
export const HOUSE: Principal = { type: 'link', name: 'a section by itself', rights: new Set(['write']) };

type Open = Awaited<ReturnType<typeof store.fetchOpenOutagesIn>>;

function noted(act: Act, { id, title, pageIds }: incidents.Incident): void {
  act.about({ kind: 'incident', id, name: title });
  act.afterwards(async () => {
    for (const pageId of pageIds) await act.world.hub.emit('pages', pageId);
  });
}

/** A text for some outages, in the words and by the clocks of the first page it stands on. */
async function words(
  { trx, now, world }: Act,
  text: PublicText,
  page: Page | undefined,
  { watchIds, began, ended }: { watchIds: number[]; began: number; ended: number | null },
) {
  const place = await placeOn(trx, page, watchIds, world.place.zone);
  return fillPublicText(text, valuesOf({ ...place, began, ended }, { ...place, now }));
}

async function publish(act: Act, telling: store.SelfTelling, text: PublicText, pages: Page[], due: Open) {
  const { trx, now } = act;
  const [first] = due;
  const watchIds = [...new Set(due.map(({ watchId }) => watchId))];
  const { title, body } = await words(act, text, pages[0], { watchIds, began: first!.began, ended: null });
  const id = await incidents.saveNewIncident(trx, {
    ...{ kind: 'incident', pageIds: pages.map((page) => page.id), title, began: first!.began, ended: null },
    affected: watchIds.map((watchId) => ({ watchId, how: 'out' as const })),
    ...{ account: '', accountAt: null, outageId: first!.id },
    update: { at: now, stage: 'looking', body },
  });
  await store.saveByItself(trx, id, telling.sectionId);
  const incident = await foundIncident(trx, id);
  await mayBeTold(act, incident, { stage: 'looking', body });
  await tellFollowers(act, incident);
  noted(act, incident);
}

/** What goes on: it spreads, or it is over. */
async function goOn(act: Act, id: number, text: PublicText, pages: Page[], due: Open, open: Open) {
  const { trx, now } = act;
  const incident = await foundIncident(trx, id);
  const affected = incident.affected.map(({ watchId }) => watchId);
  if (open.some(({ watchId }) => affected.includes(watchId))) {
    const more = due.filter(({ watchId }) => !affected.includes(watchId));
    if (more.length === 0) return;
    const added = more.map(({ watchId }) => ({ watchId, how: 'out' as const }));
    await incidents.saveIncident(trx, id, { ...incident, affected: [...incident.affected, ...added] });
    const spread = await foundIncident(trx, id);
    await refreshLetters(act, spread);
    noted(act, spread);
    return;
  }
  const ended = (await store.fetchLastEnd(trx, affected, incident.began)) ?? now;
  const page = pages.find((one) => incident.pageIds.includes(one.id));
  const { over } = await words(act, text, page, { watchIds: affected, began: incident.began, ended });
  await incidents.saveIncidentUpdate(trx, id, { at: now, stage: 'over', body: over, ended });
  const closed = await foundIncident(trx, id);
  await mayBeTold(act, closed, { stage: 'over', body: over });
  await tellFollowers(act, closed);
  noted(act, closed);
}

/**
 * Tells the public of what has been out for long in sections that were set to do so, where nobody has written anything;
 * and closes it once it is over. As soon as a person says how it goes on, it is theirs.
 */
export const tellByItself = changes(
  'tellByItself',
  'write',
  asIs<Record<string, never>>,
  async (act): Promise<void> => {
    const { trx, now } = act;
    const all = await fetchPages(trx);
    for (const telling of await store.fetchSelfTellings(trx)) {
      const text = await store.fetchPublicText(trx, telling.textId);
      const pages = all.filter(({ id }) => telling.pageIds.includes(id));
      if (!text || pages.length === 0) continue;
      const shown = new Set<number>();
      for (const page of pages) for (const id of (await fetchLabels(trx, page)).keys()) shown.add(id);
      const open = (await store.fetchOpenOutagesIn(trx, telling.sectionId)).filter(({ watchId }) =>
        shown.has(watchId),
      );
      const due = open.filter(({ began }) => now - began >= telling.afterMinutes * MINUTE_MS);
      const standing = await store.fetchToldByItself(trx, telling.sectionId);
      if (standing !== null) {
        await goOn(act, standing, text, pages, due, open);
        continue;
      }
      if (due.length === 0) continue;
      const told = await store.isToldAlready(trx, {
        watchIds: due.map(({ watchId }) => watchId),
        outageIds: due.map(({ id }) => id),
        pageIds: telling.pageIds,
      });
      if (!told) await publish(act, telling, text, pages, due);
    }
  },
);
