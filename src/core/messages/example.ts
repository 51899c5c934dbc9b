import { DAY_MS, HOUR_MS, MINUTE_MS } from '@/core/time/units';
import type { KeptMessage } from './kept-message';
import type { MessageEvent } from './message';
import type { SaidEvent, SaidItem } from './said';

type Kind = SaidEvent['kind'];

/** A made-up message of a kind, for trying words on where nothing of that kind has happened yet. */
export function exampleOf(kind: Kind, now: number): KeptMessage {
  const began = now - 12 * MINUTE_MS;
  const down: MessageEvent = {
    kind: 'down',
    began,
    noticed: began + MINUTE_MS,
    cause: 'port.refused',
    detail: { port: 443 },
  };
  const recovered: MessageEvent = {
    kind: 'recovered',
    began,
    ended: now,
    month: { from: now - 25 * DAY_MS, uptime: 0.9993 },
  };
  const item = (name: string, over: MessageEvent | null): SaidItem => ({
    watchId: 1,
    name,
    event: down,
    over,
  });
  const both = (over: MessageEvent | null) => [item('Booking site', over), item('Tide tables', over)];
  const window = {
    title: 'New mast',
    from: now + HOUR_MS,
    until: now + 3 * HOUR_MS,
    watches: ['Tide tables'],
  };
  const letter = { from: now - DAY_MS, until: now, watches: 18, outages: [], outageCount: 0 };
  const events: { [K in Kind]: SaidEvent & { kind: K } } = {
    down,
    recovered,
    'still-down': { kind: 'still-down', began, at: now, times: 1, down },
    closed: { kind: 'closed', began, at: now, because: 'paused' },
    warned: { kind: 'warned', at: now, cause: 'tls.expires-soon', detail: { left: '12 d' } },
    several: { kind: 'several', because: 'burst', items: both(null) },
    'several-over': { kind: 'several-over', items: both(recovered) },
    also: { kind: 'also', items: [{ watchId: 2, name: 'Tide tables' }] },
    unsteady: { kind: 'unsteady', turns: 6, withinMs: HOUR_MS },
    steady: { kind: 'steady', since: began },
    taken: { kind: 'taken', by: 'Ines', until: null },
    'given-back': { kind: 'given-back', by: 'Ines' },
    line: { kind: 'line', began, ended: null },
    own: { kind: 'own', code: 'disk.low', detail: { left: '90 MB', folder: '/data' }, began, ended: null },
    'new-checkin': { kind: 'new-checkin', section: 'Office', address: '192.0.2.7' },
    slow: { kind: 'slow', began, at: now, ms: 2400, limitMs: 1000 },
    maintenance: { kind: 'maintenance', stage: 'planned', ...window },
    incident: {
      kind: 'incident',
      page: 'Ferries',
      title: 'Booking is away',
      stage: 'looking',
      body: 'We look into it.',
    },
    letter: { kind: 'letter', facts: { ...letter, open: [], hands: [], windows: [], unheard: 0 } },
    test: { kind: 'test' },
  };
  return {
    event: events[kind],
    watchName: 'Booking site',
    runbook: { link: 'https://crew.ternferry.test/booking', note: 'Restart it.' },
  };
}
