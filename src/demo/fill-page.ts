import type { Knex } from 'knex';
import { newSecret } from '@/accounts/secrets';
import { hashPassword } from '@/accounts/passwords';
import { DAY_MS, HOUR_MS } from '@/core/time/units';
import { PLAIN_SETTINGS, type PageItem } from '@/core/pages/page';
import type { PagePictures } from '@/core/pages/picture';
import { saveNewPrivateBadge } from '@/store/pages/private-badges';
import { saveIncidentUpdate, saveNewIncident } from '@/store/pages/incidents';
import { fetchChannels } from '@/store/messages/channels';
import { dayName, kiosksRest } from './days';
import { fillFollowers } from './fill-followers';
import { saveNewPublicText } from '@/store/pages/public-texts';
import { saveNewPage, type PageContent } from '@/store/pages/pages';
import { transaction } from '@/store/db/connection';
import { saveNewSeries } from '@/store/maintenance/series';
import { saveNewWindow } from '@/store/maintenance/windows';
import { DEMO_INCIDENTS, type DemoIncident, type DemoWatch } from './scenario';

export interface FilledWatch {
  demo: DemoWatch;
  id: number;
  checkinKey: string | null;
}

/** What opens the page for partners. */
export const PARTNERS_PASSWORD = 'the tide waits for nobody';

type IdOf = (key: string) => number;

const BARE: Omit<PageContent, 'slug' | 'title' | 'intro' | 'sections'> = {
  ...PLAIN_SETTINGS,
  secret: null,
  passwordHash: null,
  copyPassword: null,
};

function line(watchIds: number[], label: string, rest: Partial<PageItem> = {}): PageItem {
  return { watchIds, label, description: '', shows: 'history', counting: 'any', ...rest };
}

function publicPage(idOf: IdOf): PageContent {
  const one = (key: string, label: string, rest?: Partial<PageItem>) => line([idOf(key)], label, rest);
  return {
    ...BARE,
    slug: 'ferries',
    title: 'Tern Island Ferries',
    intro: 'The boats sail whatever happens here.',
    sections: [
      {
        title: 'On the water',
        follows: null,
        items: [
          one('booking', 'Booking site', { shows: 'times' }),
          line([idOf('kiosk-north'), idOf('kiosk-south')], 'Ticket kiosks', {
            description: 'at both piers',
            counting: 'all',
          }),
          one('tides', 'Tide tables'),
          one('camera', 'Harbour camera', { description: 'a new picture every minute' }),
        ],
      },
      {
        title: 'Behind the counter',
        follows: null,
        items: [one('mail', 'Mail'), one('rota', 'Crew rota')],
      },
    ],
    accent: '#1c5d7d',
    links: [
      { text: 'Booking', address: 'https://booking.ternferry.test/' },
      { text: 'Timetable', address: 'https://ternferry.test/timetable' },
    ],
    contact: 'harbour office, 555 0142',
    pushes: true,
    copied: true,
  };
}

function partnersPage(idOf: IdOf, passwordHash: string): PageContent {
  const one = (key: string, label: string, rest?: Partial<PageItem>) => line([idOf(key)], label, rest);
  return {
    ...BARE,
    slug: 'partners',
    title: 'Tern Island Ferries for partners',
    intro: 'For travel agents and the harbours of the islands.',
    sections: [
      {
        title: '',
        follows: null,
        items: [
          one('booking', 'Booking for agents', { shows: 'times' }),
          one('tides', 'Tide feed', { shows: 'times' }),
          one('rota', 'Crew rota', { shows: 'state' }),
        ],
      },
    ],
    audience: 'password',
    passwordHash,
    listed: false,
    letters: 'plain',
    density: 'dense',
    width: 'narrow',
  };
}

async function saveIncident(
  db: Knex,
  { title, updates, affected, account = '' }: DemoIncident,
  { pageIds, idOf, now }: { pageIds: number[]; idOf: IdOf; now: number },
): Promise<void> {
  const [first, ...rest] = updates;
  const last = updates.at(-1)!;
  const id = await saveNewIncident(db, {
    ...{ kind: 'incident', pageIds, title, began: now - first!.ago, ended: null, outageId: null, account },
    affected: affected.map(({ key, how }) => ({ watchId: idOf(key), how })),
    accountAt: account === '' ? null : now - last.ago + DAY_MS,
    update: { stage: first!.stage, body: first!.body, at: now - first!.ago },
  });
  for (const { ago, stage, body } of rest) {
    await saveIncidentUpdate(db, id, { at: now - ago, stage, body, ended: now - ago });
  }
}

/** What the public sees of it all: two pages, what was told on them, and what is announced. */
export async function fillPage(
  db: Knex,
  watches: FilledWatch[],
  pictures: PagePictures,
  now: number,
): Promise<void> {
  const idOf: IdOf = (key) => watches.find((w) => w.demo.key === key)!.id;
  const createdAt = now - 90 * DAY_MS;
  const post = (await fetchChannels(db)).find(({ kind }) => kind === 'mail');
  const follow = post ? { channelId: post.id, perHour: 200, bounced: false } : null;
  const ferries = await saveNewPage(db, { ...publicPage(idOf), ...pictures, follow, createdAt });
  const partners = await saveNewPage(db, {
    ...partnersPage(idOf, await hashPassword(PARTNERS_PASSWORD)),
    ...{ logo: pictures.logo, logoDark: pictures.logoDark, favicon: pictures.favicon },
    createdAt: now - 30 * DAY_MS,
  });
  for (const incident of DEMO_INCIDENTS) {
    const booking = incident.affected.some(({ key }) => key === 'booking');
    await saveIncident(db, incident, { pageIds: booking ? [ferries, partners] : [ferries], idOf, now });
  }
  const shortHoursEnd = now + 3 * DAY_MS;
  await saveNewIncident(db, {
    ...{ kind: 'notice', pageIds: [ferries], title: 'Short hours at the ticket office', affected: [] },
    ...{ began: now - DAY_MS, ended: shortHoursEnd, account: '', accountAt: null, outageId: null },
    update: {
      ...{ stage: 'looking', at: now - DAY_MS },
      body: `The ticket office is open from 9 to 12 until ${dayName(shortHoursEnd)}. The kiosks sell tickets at any time.`,
    },
  });
  await saveNewWindow(db, {
    title: 'Harbour camera rests: new mast, the picture goes dark',
    watchIds: [idOf('camera')],
    text: 'The ferries sail as usual; ask at the **north pier** for how the water looks.',
    begins: now + 2 * DAY_MS,
    ends: now + 2 * DAY_MS + 2 * HOUR_MS,
  });
  await transaction(db, (trx) =>
    saveNewSeries(
      trx,
      {
        title: 'Ticket kiosks start anew',
        text: 'For a quarter of an hour each kiosk sells no tickets; the booking site does.',
        watchIds: [idOf('kiosk-north'), idOf('kiosk-south')],
        ...{ sectionIds: [], tagIds: [], announceDays: 7 },
        ...kiosksRest(now),
      },
      now,
    ),
  );
  await saveNewPublicText(db, {
    name: 'Out',
    title: '{{ service }} is out',
    body: '{{ service }} has been out since {{ since }}. We are looking into it. Tickets are sold at both piers.',
    over: '{{ service }} was out for {{ length }}, until {{ ended }}. We are sorry.',
  });
  await saveNewPrivateBadge(db, {
    ...{ secret: newSecret(), watchId: idOf('manifest'), sectionId: null, tagId: null, madeAt: now },
  });
  await fillFollowers(db, ferries, now);
}
