// Long. Data: everything that is made up, in one place.
import { DAY_MS, HOUR_MS, MINUTE_MS } from '@/core/time/units';
import type { CauseCode, CauseDetail } from '@/core/causes/causes';
import type { ScheduleConfig } from '@/core/settings/watch-config';

/** Something that happened to a probe, as times before now. */
export type Happening =
  | { type: 'failed'; from: number; to: number; cause: CauseCode; detail: CauseDetail }
  | { type: 'slow'; from: number; to: number; ms: number }
  | { type: 'unobserved'; from: number; to: number }
  | { type: 'maintenance'; from: number; to: number };

export interface DemoProbe {
  type: 'probe';
  key: string;
  kind: string;
  name: string;
  section: string;
  settings: object;
  usualMs: number;
  slowAfter: number | null;
  /** How long ago it was made. */
  age: number;
  happenings: Happening[];
  /** What it reads, about its mean over the day, where it reads a number. */
  /** Numbers come in steps of this size. */
  reading?: { mean: number; swing: number; unit: string; step: number };
  /** Keys of the watches it rests on. */
  restsOn?: string[];
}

export interface DemoCheckin {
  type: 'checkin';
  key: string;
  name: string;
  section: string;
  schedule: ScheduleConfig;
  leeway: number;
  runMs: number;
  /** Share of runs that fail. */
  fails: number;
  age: number;
  /** Stays away between these times before now. */
  away: { from: number; to: number }[];
  /** Runs live in the practice harbour. */
  live: { cron: string; failsEvery: number } | null;
}

export type DemoWatch = DemoProbe | DemoCheckin;

export const ZONE = 'Europe/Lisbon';
export const WATER = 'On the water';
export const COUNTER = 'Behind the counter';
export const HOME = 'Crew house';
const NINETY = 90 * DAY_MS;

function failed(from: number, length: number, cause: CauseCode, detail: CauseDetail): Happening {
  return { type: 'failed', from, to: from - length, cause, detail };
}

/** When the harbour router restarted itself: three watches stopped together. */
const ROUTER = 5 * DAY_MS + 3 * HOUR_MS;

function web(
  key: string,
  name: string,
  section: string,
  address: string,
  rest: Partial<DemoProbe> & { words?: string },
): DemoProbe {
  const { words = '', ...other } = rest;
  return {
    type: 'probe',
    key,
    kind: 'web',
    name,
    section,
    settings: { address, words },
    usualMs: 140,
    slowAfter: 800,
    age: NINETY,
    happenings: [],
    ...other,
  };
}

function port(
  key: string,
  name: string,
  section: string,
  host: string,
  number: number,
  rest: Partial<DemoProbe> = {},
): DemoProbe {
  return {
    type: 'probe',
    key,
    kind: 'port',
    name,
    section,
    settings: { host, port: number },
    usualMs: 5,
    slowAfter: null,
    age: NINETY,
    happenings: [],
    ...rest,
  };
}

function probe(
  kind: string,
  key: string,
  name: string,
  section: string,
  settings: object,
  rest: Partial<DemoProbe> = {},
): DemoProbe {
  return {
    type: 'probe',
    key,
    kind,
    name,
    section,
    settings,
    usualMs: 20,
    slowAfter: null,
    age: NINETY,
    happenings: [],
    ...rest,
  };
}

function checkin(
  key: string,
  name: string,
  section: string,
  expression: string,
  leewayMinutes: number,
  runMs: number,
  rest: Partial<DemoCheckin> = {},
): DemoCheckin {
  return {
    type: 'checkin',
    key,
    name,
    section,
    schedule: { type: 'cron', expression, zone: ZONE },
    leeway: leewayMinutes * 60,
    runMs,
    fails: 0,
    age: NINETY,
    away: [],
    live: null,
    ...rest,
  };
}

/** The eighteen watches of Tern Island Ferries; `base` is the port of the practice harbour. */
export function demoWatches(base: number): DemoWatch[] {
  const refused = (number: number): CauseDetail => ({ port: number });
  const booking = `http://booking.ternferry.test:${base + 1}`;
  const tides = `http://tides.ternferry.test:${base + 2}`;
  return [
    web('booking', 'Booking site', WATER, `${booking}/crossings`, {
      words: 'Choose your crossing',
      restsOn: ['ledger'],
      happenings: [
        failed(38 * DAY_MS, 31 * MINUTE_MS, 'port.refused', refused(base + 1)),
        { type: 'slow', from: 9 * DAY_MS + 6 * HOUR_MS, to: 9 * DAY_MS, ms: 1500 },
        failed(12.5 * MINUTE_MS, 12.5 * MINUTE_MS, 'reply.status', { status: 500 }),
      ],
    }),
    port('kiosk-north', 'Ticket kiosk, north pier', WATER, 'kiosk-north.ternferry.test', base + 4, {
      happenings: [failed(ROUTER, 9 * MINUTE_MS, 'port.timeout', { port: base + 4, limit: '10 s' })],
    }),
    port('kiosk-south', 'Ticket kiosk, south pier', WATER, 'kiosk-south.ternferry.test', base + 5),
    web('tides', 'Tide table feed', WATER, `${tides}/`, {
      words: 'High water',
      usualMs: 88,
      happenings: [
        { type: 'slow', from: 30 * DAY_MS, to: 23 * DAY_MS, ms: 1150 },
        failed(ROUTER, 9 * MINUTE_MS, 'port.timeout', { port: base + 2, limit: '10 s' }),
      ],
    }),
    web('camera', 'Harbour camera', WATER, `${tides}/camera`, {
      usualMs: 210,
      happenings: [
        { type: 'maintenance', from: 19 * HOUR_MS, to: 17 * HOUR_MS },
        { type: 'maintenance', from: 46 * DAY_MS, to: 46 * DAY_MS - 3 * HOUR_MS },
      ],
    }),
    checkin('weather', 'Weather pull, every 15 min', WATER, '*/15 * * * *', 5, 6200, {
      fails: 0.0008,
      live: { cron: '*/15 * * * *', failsEvery: 9 },
    }),
    probe(
      'reading',
      'counter',
      'Queue at the north pier',
      WATER,
      {
        source: 'json',
        address: `http://desk.ternferry.test:${base + 14}/queue`,
        path: '$.waiting',
        what: 'The queue',
        unit: 'people',
        warnHigh: 80,
        failHigh: 150,
      },
      { usualMs: 60, age: 41 * DAY_MS, reading: { mean: 24, swing: 20, unit: 'people', step: 1 } },
    ),
    probe(
      'mail',
      'mail',
      'Office mail',
      COUNTER,
      { host: 'mail.ternferry.test', port: base + 6 },
      {
        usualMs: 31,
        happenings: [failed(ROUTER, 9 * MINUTE_MS, 'port.timeout', { port: base + 6, limit: '10 s' })],
      },
    ),
    web('rota', 'Crew rota', COUNTER, `https://rota.ternferry.test:${base + 3}/`, {
      words: 'Who sails today',
      age: 25 * DAY_MS,
      usualMs: 120,
      happenings: [failed(16 * DAY_MS, 2 * HOUR_MS + 4 * MINUTE_MS, 'tls.expired', { ago: '3 min 12 s' })],
    }),
    web('timetable', 'Timetable page', COUNTER, `${tides}/timetable`, { usualMs: 95 }),
    checkin('manifest', 'Nightly manifest backup', COUNTER, '30 2 * * *', 30, 231_000, {
      fails: 0.03,
      away: [{ from: 61 * DAY_MS, to: 60 * DAY_MS }],
    }),
    checkin('fares', 'Fare sync, hourly', COUNTER, '5 * * * *', 10, 14_000, {
      fails: 0.002,
      live: { cron: '5 * * * *', failsEvery: 0 },
    }),
    checkin('payroll', 'Monthly payroll export', COUNTER, '0 6 1 * *', 180, 95_000),
    probe(
      'database',
      'ledger',
      'Booking ledger',
      COUNTER,
      {
        host: 'ledger.ternferry.test',
        port: base + 10,
        user: 'reader',
        query: 'SELECT count(*) FROM unpaid',
        comparison: 'at most',
        value: '100',
      },
      { usualMs: 18 },
    ),
    probe(
      'reading',
      'heating',
      'Crew house heating',
      HOME,
      {
        source: 'topic',
        host: 'house.ternferry.test',
        port: base + 12,
        topic: 'crew-house/temperature',
        path: '$.celsius',
        what: 'The room temperature',
        unit: '°C',
        failLow: 8,
        warnLow: 15,
        warnHigh: 26,
      },
      {
        usualMs: 45,
        reading: { mean: 19.5, swing: 2.2, unit: '°C', step: 0.1 },
        happenings: [
          { type: 'unobserved', from: 8 * HOUR_MS, to: 7 * HOUR_MS },
          { type: 'unobserved', from: 52 * DAY_MS, to: 50 * DAY_MS },
        ],
      },
    ),
    probe('ping', 'doorbell', 'Door bell', HOME, { host: 'doorbell.ternferry.test' }, { usualMs: 210 }),
    checkin('photos', 'Family photo backup', HOME, '0 3 * * *', 60, 1_260_000, { fails: 0.02 }),
    web('guest', 'Guest network page', HOME, `${tides}/guest`, { usualMs: 30, age: 73 * DAY_MS }),
  ];
}

/** Tags by the keys of the watches that carry them. */
export const DEMO_TAGS: Record<string, string[]> = {
  booking: ['passengers', 'money'],
  'kiosk-north': ['pier', 'money'],
  'kiosk-south': ['pier', 'money'],
  tides: ['passengers'],
  camera: ['pier', 'passengers'],
  counter: ['pier'],
  timetable: ['passengers'],
  ledger: ['money'],
  manifest: ['night'],
  payroll: ['money'],
  photos: ['night'],
};

export interface DemoIncident {
  title: string;
  affected: { key: string; how: 'out' | 'partly' | 'slow' }[];
  /** What happened and what will change, told once it was over. */
  account?: string;
  updates: { ago: number; stage: 'looking' | 'found' | 'watching' | 'over'; body: string }[];
}

export const DEMO_INCIDENTS: DemoIncident[] = [
  {
    title: 'Booking stopped for half an hour',
    affected: [{ key: 'booking', how: 'out' }],
    account: [
      'The old booking server was switched off before the new one had taken over. For 31 minutes nobody could book.',
      '',
      '- No booking that had been made was lost.',
      '- From now on the old server is switched off a day after the new one has begun.',
    ].join('\n'),
    updates: [
      { ago: 38 * DAY_MS - 5 * MINUTE_MS, stage: 'looking', body: 'The booking site does not answer.' },
      {
        ago: 38 * DAY_MS - 20 * MINUTE_MS,
        stage: 'found',
        body: 'We are moving to a new server; the old one was switched off **too early**.',
      },
      {
        ago: 38 * DAY_MS - 36 * MINUTE_MS,
        stage: 'over',
        body: 'Booking stopped for 31 minutes while we changed servers.',
      },
    ],
  },
  {
    title: 'Three services stopped together',
    affected: [
      { key: 'tides', how: 'out' },
      { key: 'kiosk-north', how: 'out' },
      { key: 'mail', how: 'out' },
    ],
    updates: [
      {
        ago: ROUTER - 4 * MINUTE_MS,
        stage: 'looking',
        body: 'Tide tables, the north kiosk and office mail are away.',
      },
      {
        ago: ROUTER - 11 * MINUTE_MS,
        stage: 'over',
        body: 'The harbour router restarted itself after an update. All is back.',
      },
    ],
  },
  {
    title: 'Online booking is not answering',
    affected: [{ key: 'booking', how: 'out' }],
    updates: [
      {
        ago: 9 * MINUTE_MS,
        stage: 'looking',
        body: 'The booking site turns visitors away. You can still buy tickets at either pier.',
      },
      {
        ago: 3 * MINUTE_MS,
        stage: 'found',
        body: 'A full disk stopped the booking database. We are making room; **bookings already made are safe**.',
      },
    ],
  },
];
