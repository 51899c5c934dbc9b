import type { Stage } from '@/core/pages/incident';
import type { Act } from '@/cases/frame/use-case';
import { saveHappening } from '@/store/messages/happenings';
import { fetchRoutesAbout } from '@/store/messages/routes-about';
import type { Incident } from '@/store/pages/incidents';
import { fetchShownIds } from '@/store/pages/shown';
import { foundPage } from './pages';

/** Those inside who asked for it hear what the public was told, once for all pages it stands on. */
export async function mayBeTold(
  { trx, now, afterwards, world }: Act,
  { id, title, pageIds }: Incident,
  { stage, body }: { stage: Stage; body: string },
): Promise<void> {
  const pages = await Promise.all(pageIds.map((pageId) => foundPage(trx, pageId)));
  const shown = await fetchShownIds(
    trx,
    pages.flatMap(({ sections }) => sections),
  );
  const routes = await fetchRoutesAbout(trx, shown);
  const page = pages.map((one) => one.title).join(', ');
  const event = { kind: 'incident' as const, page, title, stage, body };
  await saveHappening(trx, { thread: `i${id}`, watch: null, phase: 'once', event, routes }, now);
  afterwards(() => world.engine.call('routesChanged', {}).catch(() => undefined));
}
