import type { Knex } from 'knex';
import { DAY_MS } from '@/core/time/units';
import { PLAIN_SETTINGS, type PageItem } from '@/core/pages/page';
import { saveIncidentUpdate, saveNewIncident } from '@/store/pages/incidents';
import { saveNewPage } from '@/store/pages/pages';
import { saveNewWindow } from '@/store/pages/windows';
import { DEMO_INCIDENTS, type DemoWatch } from './scenario';

export interface FilledWatch {
  demo: DemoWatch;
  id: number;
  checkinKey: string | null;
}

/** What the public sees of it all: a page, what was told on it, and what is announced. */
export async function fillPage(db: Knex, watches: FilledWatch[], now: number): Promise<void> {
  const idOf = (key: string) => watches.find((w) => w.demo.key === key)!.id;
  const item = (key: string, label: string, rest: Partial<PageItem> = {}) => ({
    watchIds: [idOf(key)],
    label,
    description: '',
    shows: 'history' as const,
    counting: 'any' as const,
    ...rest,
  });
  const pageId = await saveNewPage(db, {
    ...PLAIN_SETTINGS,
    secret: null,
    passwordHash: null,
    slug: 'ferries',
    title: 'Tern Island Ferries',
    intro: 'The boats sail whatever happens here.',
    sections: [
      {
        title: 'On the water',
        follows: null,
        items: [
          item('booking', 'Booking site'),
          item('kiosk-north', 'Ticket kiosk, north'),
          item('kiosk-south', 'Ticket kiosk, south'),
          item('tides', 'Tide tables'),
          item('camera', 'Harbour camera'),
        ],
      },
      {
        title: 'Behind the counter',
        follows: null,
        items: [item('mail', 'Mail'), item('rota', 'Crew rota')],
      },
    ],
    createdAt: now - 90 * DAY_MS,
  });
  for (const { title, updates } of DEMO_INCIDENTS) {
    const [first, ...rest] = updates;
    const id = await saveNewIncident(db, {
      ...{ kind: 'incident', pageIds: [pageId], title, began: now - first!.ago, ended: null },
      ...{ affected: [], account: '', accountAt: null, outageId: null },
      update: { stage: first!.stage, body: first!.body, at: now - first!.ago },
    });
    for (const { ago, stage, body } of rest) {
      await saveIncidentUpdate(db, id, { at: now - ago, stage, body, ended: now - ago });
    }
  }
  await saveNewWindow(db, {
    title: 'Harbour camera rests: new mast, the picture goes dark',
    watchIds: [idOf('camera')],
    begins: now + 2 * DAY_MS,
    ends: now + 2 * DAY_MS + 7_200_000,
  });
}
