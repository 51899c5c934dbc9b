import { describe, expect, it } from 'vitest';
import { asDrill } from '@/core/messages/drill';
import { messageInWords } from '@/core/messages/kept-message';
import { drillBegins, drillEnds, foretellDrill, type Drill } from '@/core/telling/ahead/drill';
import { NO_WATCHES, type Route, type WatchFacts } from '@/core/telling/route';
import { tellAll } from '@/core/telling/tell';
import { NOTHING_TOLD, USUAL_FOLDING, type Setup } from '@/core/telling/telling';
import { TOPIC_NAMES } from '@/core/telling/topic';

const MIN = 60_000;
const T0 = Date.parse('2026-11-26T12:00:00Z');
const [CREW, OFFICE] = [1, 2];

const watch = (id: number, kind = 'web'): WatchFacts => ({
  id,
  name: `Kiosk ${id}`,
  kind,
  section: 'Piers',
  tags: [],
  urgency: 'soon',
});

const setup = (change: Partial<Route> = {}): Setup => ({
  routes: [
    {
      id: 1,
      name: 'All',
      enabled: true,
      watches: { all: true, ...NO_WATCHES, except: NO_WATCHES },
      topics: TOPIC_NAMES,
      steps: [
        { afterMs: 0, channels: [CREW] },
        { afterMs: 2 * MIN, channels: [OFFICE] },
      ],
      againMs: null,
      againMost: null,
      hours: null,
      ...change,
    },
  ],
  channels: new Set([CREW, OFFICE]),
  folding: USUAL_FOLDING,
});

const drill = (watches: WatchFacts[], change: Partial<Drill> = {}): Drill => ({
  id: 9,
  watches,
  happening: 'down',
  began: T0,
  until: T0 + 5 * MIN,
  ...change,
});

const said = (one: Drill, by: Setup) =>
  foretellDrill(one, by).says.map(({ afterMs, channelId, event }) => [afterMs / MIN, channelId, event.kind]);

describe('what a drill makes up', () => {
  const PLACE = { linkBase: 'http://desk.test', zone: 'UTC' };

  it.each([
    ['down', 'web', 'port.refused', 'The host is there, but nothing listens on port 443.'],
    ['down', 'checkin', 'checkin.missed', 'Expected by 12:00 UTC, but no check-in came.'],
    ['failed', 'checkin', 'checkin.failed', 'The job reported that it failed.'],
    ['certificate', 'web', 'tls.expires-urgent', 'The certificate expires in only 3 d.'],
  ] as const)('of %s, for a %s, is %s, said in whole sentences', (happening, kind, cause, sentence) => {
    const [one] = drillBegins(drill([watch(7, kind)], { happening }));
    expect(one).toMatchObject({ watch: { id: 7, drill: 9 }, event: { cause } });
    const event = (one as Extract<typeof one, { event: unknown }>)!.event;
    const { lines } = messageInWords({ event, watchName: 'Kiosk 7', drill: 9 }, 7, PLACE);
    expect(lines[1]).toBe(sentence);
  });
});

describe('a drill', () => {
  it('goes the way a real trouble goes: at once, by steps, and over at its end', () => {
    expect(said(drill([watch(7)]), setup())).toEqual([
      [0, CREW, 'down'],
      [2, OFFICE, 'down'],
      [5, CREW, 'recovered'],
      [5, OFFICE, 'recovered'],
    ]);
  });

  it('is over before later steps where it is short', () => {
    const plan = foretellDrill(drill([watch(7)], { until: T0 + MIN }), setup());
    expect(plan.says.map(({ channelId }) => channelId)).toEqual([CREW, CREW]);
    expect(plan.notes).toEqual([]);
    const late = setup({ steps: [{ afterMs: 2 * MIN, channels: [CREW] }] });
    expect(foretellDrill(drill([watch(7)], { until: T0 + MIN }), late)).toEqual({
      says: [],
      notes: [{ afterMs: MIN, channelId: null, routeId: 1, watch: 'Kiosk 7', rule: 'over-before-its-time' }],
    });
  });

  it('says what routes keep back, and by which rule', () => {
    const hours = { zone: 'UTC', spans: [{ days: [1], from: '07:00', until: '08:00' }], daysOff: [] };
    const closed = setup({ hours: { ...hours, outside: 'drop' } });
    const { says, notes } = foretellDrill(drill([watch(7)]), closed);
    expect(says).toEqual([]);
    expect(notes[0]).toEqual({ afterMs: 0, channelId: CREW, routeId: 1, watch: 'Kiosk 7', rule: 'dropped' });
    const certificate = drill([watch(7)], { happening: 'certificate' });
    expect(foretellDrill(certificate, closed).notes[0]).toMatchObject({ watch: 'Kiosk 7', rule: 'dropped' });
  });

  it.each([
    ['down', 'web', 'port.refused'],
    ['down', 'checkin', 'checkin.missed'],
    ['failed', 'checkin', 'checkin.failed'],
    ['certificate', 'web', 'tls.expires-urgent'],
  ] as const)('of “%s” on a %s makes up %s', (happening, kind, cause) => {
    const [begins] = drillBegins(drill([watch(7, kind)], { happening }));
    expect(begins).toMatchObject({ thread: 'd9.7', event: { cause }, watch: { drill: 9 } });
    expect(drillEnds(drill([watch(7)], { happening }), T0)).toHaveLength(happening === 'certificate' ? 0 : 1);
  });

  it('folds many into one as a real storm does, each marked', () => {
    const many = drill(Array.from({ length: 8 }, (_, i) => watch(i + 1)));
    const { says } = foretellDrill(many, setup());
    const folded = says.find(({ event }) => event.kind === 'several')!;
    const { items } = folded.event as { items: { name: string }[] };
    expect(items.map(({ name }) => name)).toEqual(['Drill: Kiosk 6', 'Drill: Kiosk 7', 'Drill: Kiosk 8']);
  });

  it('has a conversation of its own: what is real is told beside it, and neither ends the other', () => {
    const real = {
      thread: 'w7',
      phase: 'opens' as const,
      watch: watch(7),
      event: drillBegins(drill([watch(7)]))[0]!,
    };
    const happened = (happening: object) => ({ type: 'happened' as const, happening: happening as never });
    const opens = happened({ ...real, event: (real.event as { event: object }).event });
    const [begins, ends] = [drillBegins(drill([watch(7)]))[0]!, drillEnds(drill([watch(7)]), T0)[0]!];
    const both = tellAll(NOTHING_TOLD, [opens, happened(begins)], T0, setup());
    expect(both.says.map(({ thread, drill: of }) => [thread, of])).toEqual([
      ['w7', null],
      ['d9.7', 9],
    ]);
    const over = tellAll(both.telling, [happened(ends)], T0 + 1, setup());
    expect(over.says.map(({ thread, event }) => [thread, event.kind])).toEqual([['d9.7', 'recovered']]);
    expect(over.telling.threads.get('w7')?.open).not.toBeNull();
  });

  it('is marked at its head and in its first line, and leads to its report', () => {
    const event = { kind: 'recovered' as const, began: T0, ended: T0 + MIN };
    const place = { linkBase: 'https://watch.ternferry.test', zone: 'UTC' };
    const text = messageInWords({ event, watchName: 'Kiosk', drill: 9 }, 7, place);
    expect(text).toMatchObject({
      title: 'Drill: Kiosk is up again',
      link: 'https://watch.ternferry.test/messages/drills/9',
    });
    expect(text.lines[0]).toBe('This is a rehearsal: nothing of it is real.');
    expect(asDrill({ title: 'a', lines: [], link: '' }).title).toBe('Drill: a');
  });
});

describe('what a drill foretells', () => {
  it('names who it is about, and what is left of a burst when it is over', () => {
    const seven = [1, 2, 3, 4, 5, 6, 7].map((id) => watch(id));
    const { says } = foretellDrill(drill(seven), setup({ steps: [{ afterMs: 0, channels: [CREW] }] }));
    expect(says.map((one) => one.watch).slice(0, 6)).toEqual([
      ...seven.slice(0, 5).map((one) => one.name),
      null,
    ]);
    const last = says.at(-1)!;
    expect([last.event.kind, last.watch, last.rule, last.afterMs]).toEqual([
      'several-over',
      null,
      'burst',
      6 * MIN,
    ]);
  });

  it('ends where it would fill a book', () => {
    const often = setup({ againMs: MIN, steps: [{ afterMs: 0, channels: [CREW, OFFICE] }] });
    const { says } = foretellDrill(drill([watch(1)], { until: T0 + 24 * 60 * MIN }), often);
    expect(says.length).toBeGreaterThan(500);
    expect(says.length).toBeLessThan(510);
    const few = foretellDrill(drill([watch(1)], { until: T0 + 249 * MIN }), often).says;
    // The first, one a minute, and that it is over; to two channels each.
    expect(few).toHaveLength(2 * (1 + 249 + 1));
  });
});
