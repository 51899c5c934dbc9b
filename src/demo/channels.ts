import type { Knex } from 'knex';
import type { Hours } from '@/core/telling/hours';
import { USUAL_ROUTE } from '@/core/telling/route-config';
import { NO_WATCHES } from '@/core/telling/route';
import { PRACTICE_BOT } from '@/standins/rooms/bot-room';
import { PRACTICE_SECRET } from '@/standins/rooms/event-room';
import { PRACTICE_MATRIX } from '@/standins/rooms/matrix-room';
import { PracticePhone } from '@/standins/rooms/phone';
import { fetchChannel, saveChannelChange, saveNewChannel } from '@/store/messages/channels';
import { saveNewText } from '@/store/messages/texts';
import { fetchRoutes, saveNewRoute, saveRouteChange } from '@/store/messages/routes';
import { COUNTER, HOME, WATER, ZONE } from './scenario';

const MINUTE = 60;

/** What the crew reads when something goes down. */
const CREW_WORDS = {
  title: '{{ name }} needs one of us',
  body: [
    '{{ why }} That is since {{ since }}.',
    '{% if note != "" %}We wrote down for this: {{ note }}{% endif %}',
    'Else: {{ advice }}',
  ].join('\n'),
};

/** The one that does not answer when the demo begins. */
export const SILENT_ROOM = 'Harbour display';

/** Who hears in the demo: a room of the practice harbour for each. */
const CHANNELS = {
  crew: ['webhook', 'Crew room', (rooms: string) => ({ address: `${rooms}/crew/hook` })],
  phone: ['push', 'Ines’s phone', (rooms: string) => new PracticePhone().subscription(`${rooms}/phone`)],
  office: [
    'matrix',
    'Harbour office',
    (rooms: string) => ({
      address: `${rooms}/matrix`,
      token: PRACTICE_MATRIX.token,
      room: PRACTICE_MATRIX.room,
      listens: true,
    }),
  ],
  flow: ['adaptive-card', 'Office flow', (rooms: string) => ({ address: `${rooms}/adaptive/hook` })],
  chat: [
    'bot',
    'Crew house chat',
    (rooms: string) => ({ address: `${rooms}/bot`, ...PRACTICE_BOT, listens: true }),
  ],
  display: [
    'event',
    'Harbour display',
    (rooms: string) => ({ address: `${rooms}/events`, secret: PRACTICE_SECRET }),
  ],
  pier: [
    'card-webhook',
    'Pier room',
    (rooms: string) => ({ address: `${rooms}/cards/hook`, edits: true, mention: '' }),
  ],
} as const;

const OFFICE_HOURS: Hours = {
  zone: ZONE,
  spans: [{ days: [1, 2, 3, 4, 5], from: '07:00', until: '18:00' }],
  daysOff: [],
  outside: 'hold',
};

const section = (name: string) => ({ all: false, ...NO_WATCHES, sections: [name], except: NO_WATCHES });

/** The desk mailbox of the harbour listens so far behind the port of its screen. */
const MAILBOX_PORT = 15;

/** Connects the rooms of the harbour, and says who hears what. */
export async function connectRooms(db: Knex, harbourPort: number, since: number): Promise<void> {
  const rooms = `http://127.0.0.1:${harbourPort}/rooms`;
  const ids = {} as Record<keyof typeof CHANNELS, number>;
  for (const [key, [kind, name, settings]] of Object.entries(CHANNELS)) {
    const language = key === 'chat' ? ('pt' as const) : ('en' as const);
    const channel = { kind, name, settings: settings(rooms), enabled: true, language, createdAt: since };
    ids[key as keyof typeof CHANNELS] = await saveNewChannel(db, channel);
  }
  await saveNewChannel(db, {
    ...{ kind: 'mail', name: 'Ferry letters', enabled: true, language: 'en', createdAt: since },
    settings: {
      ...{ host: '127.0.0.1', port: harbourPort + MAILBOX_PORT, security: 'none', user: '', password: '' },
      ...{ from: 'Tern Island Ferries <letters@ternferry.test>', to: 'office@ternferry.test', authority: '' },
      ...{ dkimSelector: '', dkimKey: '', servername: '' },
    },
  });
  await saveNewText(db, { channelId: ids.crew, happening: 'down', ...CREW_WORDS }, since);
  // The display does not answer: what it does not take is said in another room.
  const display = (await fetchChannel(db, ids.display))!;
  await saveChannelChange(db, ids.display, { ...display, fallbackId: ids.chat });
  const [first] = await fetchRoutes(db);
  const { id, ...usual } = first!;
  await saveRouteChange(db, id, {
    ...usual,
    name: 'Day and night',
    watches: section(WATER),
    steps: [
      { after: 0, channels: [ids.crew, ids.display] },
      { after: 5 * MINUTE, channels: [ids.phone] },
      { after: 20 * MINUTE, channels: [ids.office] },
    ],
    again: 60 * MINUTE,
    againMost: 8,
  });
  await saveNewRoute(
    db,
    {
      ...USUAL_ROUTE,
      name: 'Office hours',
      enabled: true,
      watches: section(COUNTER),
      topics: USUAL_ROUTE.topics.filter((topic) => topic !== 'own'),
      steps: [{ after: 0, channels: [ids.flow] }],
      hours: OFFICE_HOURS,
    },
    since,
  );
  await saveNewRoute(
    db,
    {
      ...USUAL_ROUTE,
      name: 'The house',
      enabled: true,
      watches: section(HOME),
      topics: USUAL_ROUTE.topics.filter((topic) => topic !== 'own'),
      steps: [{ after: 10 * MINUTE, channels: [ids.chat, ids.pier] }],
    },
    since,
  );
}
