import { describe, expect, it } from 'vitest';
import { ruleInWords } from '@/core/telling/rule-words';
import type { Rule } from '@/core/telling/telling';
import { exampleTrouble, foretell } from '@/core/telling/foretell';
import { factsOf, happeningsOf } from '@/core/telling/happen';
import type { Hours } from '@/core/telling/hours';
import { NO_WATCHES, type Route } from '@/core/telling/route';
import { routeOfConfig, USUAL_ROUTE } from '@/core/telling/route-config';
import { foretoldInWords, hoursInWords, routeInWords, watchesInWords } from '@/core/telling/route-words';
import { TOPIC_NAMES, topicOf, USUAL_TOPICS } from '@/core/telling/topic';
import { HOUR, MINUTE, routeOf, setupOf, T0, watchOf } from './telling-on';

const CHANNELS: Record<number, string> = { 1: 'Crew room', 2: 'Desk mail', 3: 'Ines’s phone' };
const NAMES = {
  channel: (id: number) => CHANNELS[id]!,
  watch: (id: number) => `Kiosk ${id}`,
  kind: (id: string) => `${id} watch`,
};
const words = (rest: Partial<Route> = {}) => routeInWords(routeOf(rest), NAMES);
const some = (group: object, except: object = {}) => ({
  all: false,
  ...NO_WATCHES,
  ...group,
  except: { ...NO_WATCHES, ...except },
});

describe('a route in a sentence', () => {
  it('says who hears of anything', () => {
    expect(words({ topics: USUAL_TOPICS })).toBe(
      'When anything happens to any watch or to Calm Lantern itself: Crew room hears at once.',
    );
    expect(words()).toBe(
      'When anything happens to any watch or to Calm Lantern itself, or it is slow, or maintenance is planned, begins or ends, or the public is told of an incident: Crew room hears at once.',
    );
    expect(words({ steps: [{ afterMs: 0, channels: [] }] })).toMatch(/: nobody hears yet\.$/);
  });

  it('says which watches, and which not', () => {
    const group = { tags: ['house'], sections: ['On the pier', ''], kinds: ['web'], ids: [7] };
    expect(watchesInWords({ watches: some(group) }, NAMES)).toBe(
      'anything in On the pier, what has no section, anything tagged house, every web watch and Kiosk 7',
    );
    expect(watchesInWords({ watches: some({ tags: ['house'] }, { ids: [3, 4] }) }, NAMES)).toBe(
      'anything tagged house, but Kiosk 3 and Kiosk 4',
    );
    expect(watchesInWords({ watches: some({}) }, NAMES)).toBe('no watch yet');
  });

  it('says what it tells, and that it does not tell the end', () => {
    expect(words({ topics: ['down', 'missed', 'failed'] })).toBe(
      'For any watch, when it is down, a job is missed or a job failed: Crew room hears at once; that it is over is not told.',
    );
    expect(words({ topics: ['down', 'recovered'] })).toBe(
      'For any watch, when it is down: Crew room hears at once.',
    );
  });

  it('says the steps, and how often all hear again', () => {
    const steps = [
      { afterMs: 0, channels: [1] },
      { afterMs: 5 * MINUTE, channels: [2, 3] },
      { afterMs: 20 * MINUTE, channels: [] },
    ];
    expect(words({ steps, againMs: HOUR })).toMatch(
      /: Crew room hears at once and Desk mail and Ines’s phone hear after 5 min, then again every 1 h until someone has it\.$/,
    );
    expect(words({ againMs: HOUR, againMost: 3 })).toMatch(
      /, then again every 1 h, three times at most, until someone has it\.$/,
    );
  });

  it('says when it speaks, and what becomes of the rest', () => {
    const hours = (spans: Hours['spans'], rest: Partial<Hours> = {}) =>
      hoursInWords({ zone: 'UTC', spans, daysOff: [], outside: 'hold', ...rest });
    const from = { from: '07:00', until: '18:00' };
    expect(hours([{ days: [5, 4, 3, 2, 1], ...from }])).toBe(
      'on weekdays from 07:00 to 18:00 (UTC); the rest is told together when they open',
    );
    expect(hours([{ days: [1, 2, 3, 4, 5, 6, 7], ...from }], { outside: 'drop' })).toBe(
      'from 07:00 to 18:00 (UTC); nothing is told outside them',
    );
    expect(hours([{ days: [7, 6], ...from }], { outside: 'urgent', daysOff: ['2026-12-25'] })).toBe(
      'at weekends from 07:00 to 18:00, but not on one day off (UTC); outside them only what is for any hour; the rest is told together when they open',
    );
    expect(
      hours(
        [
          { days: [2], ...from },
          { days: [4, 1], ...from },
        ],
        { daysOff: ['a', 'b'] },
      ),
    ).toMatch(
      /^on Tuesdays from 07:00 to 18:00 and on Mondays and Thursdays from 07:00 to 18:00, but not on two days off/,
    );
    expect(
      words({ hours: { zone: 'UTC', spans: [{ days: [6, 7], ...from }], daysOff: [], outside: 'hold' } }),
    ).toMatch(/ at once\. It speaks at weekends from/);
  });
});

describe('what would be told', () => {
  const foretold = (...routes: Route[]) =>
    foretell(watchOf(1), exampleTrouble('web', T0), T0, setupOf(...routes));
  const inWords = (...routes: Route[]) => foretoldInWords(foretold(...routes), NAMES.channel);

  it('is what the routes would say, step by step and again', () => {
    const steps = [
      { afterMs: 0, channels: [1] },
      { afterMs: 5 * MINUTE, channels: [2] },
    ];
    expect(inWords(routeOf({ steps }))).toBe('Crew room at once; Desk mail after 5 min.');
    expect(inWords(routeOf({ steps, againMs: HOUR }))).toBe(
      'Crew room at once; Desk mail after 5 min; again every 1 h until someone has it.',
    );
    expect(inWords(routeOf({ againMs: HOUR, againMost: 1 }))).toBe('Crew room at once; once more after 1 h.');
    expect(inWords()).toBe('Nobody would be told.');
    expect(inWords(routeOf({ topics: ['missed'] }))).toBe('Nobody would be told.');
  });

  it('of a check-in is that it was missed', () => {
    const missed = routeOf({ topics: ['missed'] });
    const said = foretell(watchOf(1), exampleTrouble('checkin', T0), T0, setupOf(missed));
    expect(said).toEqual([{ channelId: 1, afterMs: 0, rule: 'step' }]);
  });

  it('ends after two days, however often it is told again', () => {
    const said = foretold(routeOf({ againMs: 12 * HOUR }));
    expect(said.map(({ afterMs }) => afterMs / HOUR)).toEqual([0, 12, 24, 36, 48]);
    expect(foretold(routeOf({ againMs: MINUTE })).length).toBeLessThan(210);
  });
});

describe('what may be told of a decision', () => {
  const watch = watchOf(7);
  const refused = { cause: 'port.refused', detail: { port: 443 } } as const;
  const began = { type: 'outage-began' as const, began: T0, noticed: T0 + 5, ...refused };
  const ended = { type: 'outage-ended' as const, began: T0, ended: T0 + 1000 };
  const warned = { type: 'warned' as const, at: T0, cause: 'tls.expires-soon' as const, detail: {} };
  const down = { kind: 'down', began: T0, noticed: T0 + 5, ...refused };
  const told = (events: Parameters<typeof happeningsOf>[1], paused = false) =>
    happeningsOf(watch, events, { paused, at: T0 + 9 });

  it('is the outage that began, with the way that was walked', () => {
    expect(told([began])).toEqual([{ thread: 'w7', phase: 'opens', watch, event: down }]);
    expect(told([{ ...began, type: 'outage-announced' }])).toEqual(told([began]));
    const walk = [{ rung: 'host', label: 'host', result: 'fine' }] as const;
    const [one] = happeningsOf(watch, [began], { paused: false, at: T0, walk });
    expect(one).toMatchObject({ event: { ...down, walk } });
  });

  it('joins what it follows from', () => {
    expect(told([{ ...began, withheld: { follows: 3 } }])).toEqual([{ thread: 'w3', phase: 'joins', watch }]);
    expect(told([{ type: 'outage-follows', of: 4 }])).toEqual([{ thread: 'w4', phase: 'joins', watch }]);
    expect(told([{ ...began, withheld: { follows: null } }])).toEqual([]);
  });

  it('is its end, or that nobody looks any more, unless its beginning was not told', () => {
    const event = { kind: 'recovered', began: T0, ended: T0 + 1000 };
    expect(told([ended])).toEqual([{ thread: 'w7', phase: 'closes', watch, event }]);
    expect(told([ended], true)).toMatchObject([
      { phase: 'closes', event: { kind: 'closed', began: T0, at: T0 + 9, because: 'paused' } },
    ]);
    expect(told([{ ...ended, withheld: true }])).toEqual([]);
  });

  it('is a limit that is passed, where nothing worse happened', () => {
    expect(told([warned])).toMatchObject([{ thread: 'w7', phase: 'once', event: { kind: 'warned' } }]);
    expect(told([began, warned])).toHaveLength(1);
    expect(told([ended, warned]).map(({ phase }) => phase)).toEqual(['closes', 'once']);
    expect(told([])).toEqual([]);
  });

  it('is seen by routes as what it is', () => {
    const facts = factsOf({ id: 1, name: 'Kiosk', kind: 'web', section: null, tags: [{ name: 'pier' }] });
    expect(facts).toEqual({
      id: 1,
      name: 'Kiosk',
      kind: 'web',
      section: null,
      tags: ['pier'],
      urgency: 'soon',
    });
  });
});

describe('what routes look at in a watch', () => {
  const watch = { id: 3, name: 'Booking site', kind: 'web', section: null, tags: [{ name: 'money' }] };

  it('is how much it matters, and what is written down for it', () => {
    expect(factsOf(watch)).toEqual({ ...watch, tags: ['money'], urgency: 'soon' });
    expect(factsOf({ ...watch, config: { urgency: 'any-hour', runbookNote: 'Ring Ines.' } })).toEqual({
      ...watch,
      tags: ['money'],
      urgency: 'any-hour',
      runbook: { link: '', note: 'Ring Ines.' },
    });
    expect(factsOf({ ...watch, config: { runbook: 'https://wiki.ternferry.test' } }).runbook).toEqual({
      link: 'https://wiki.ternferry.test',
      note: '',
    });
  });
});

describe('why something was said, or not', () => {
  it('is said in words that tell it from everything else', () => {
    const rules: Rule[] = [
      'step',
      'again',
      'over',
      'no-route',
      'held',
      'dropped',
      'by-hand',
      'taken',
      'gathered',
    ];
    const words = rules.map(ruleInWords);
    expect(new Set(words).size).toBe(rules.length);
    for (const one of words) expect(one).toMatch(/^[a-z][^.]+$/);
  });
});

describe('what a route may be about', () => {
  const of = (kind: 'down' | 'warned', cause: string) => topicOf({ kind, cause, detail: {} } as never);

  it('is told from the cause', () => {
    expect([
      of('down', 'port.refused'),
      of('down', 'checkin.missed'),
      of('down', 'checkin.exit-status'),
    ]).toEqual(['down', 'missed', 'failed']);
    expect([
      of('down', 'checkin.overlong'),
      of('down', 'checkin.unfinished'),
      of('warned', 'checkin.never'),
    ]).toEqual(['overlong', 'failed', 'missed']);
    expect([
      of('warned', 'tls.expires-soon'),
      of('warned', 'tls.expires-urgent'),
      of('warned', 'value.high-soon'),
    ]).toEqual(['certificate', 'certificate-urgent', 'reading']);
    expect([of('warned', 'checkin.doubled'), of('warned', 'checkin.too-soon')]).toEqual([
      'too-often',
      'too-often',
    ]);
  });

  it('is told from the event', () => {
    const kinds = [
      'recovered',
      'line',
      'new-checkin',
      'own',
      'slow',
      'maintenance',
      'incident',
      'test',
      'closed',
    ] as const;
    expect(kinds.map((kind) => topicOf({ kind } as never))).toEqual([
      'recovered',
      'line',
      'first-contact',
      'own',
      'slow',
      'maintenance',
      'incident',
      null,
      null,
    ]);
  });

  it('is everything where nothing is chosen, and told to nobody', () => {
    const route = routeOfConfig({ id: 1, name: 'x', enabled: true, ...USUAL_ROUTE, again: 60 });
    expect(route).toMatchObject({
      topics: TOPIC_NAMES.filter((topic) => !['slow', 'maintenance', 'incident'].includes(topic)),
      againMs: 60_000,
      steps: [{ afterMs: 0, channels: [] }],
    });
  });
});
