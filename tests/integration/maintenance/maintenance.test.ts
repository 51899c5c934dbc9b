import { describe, expect, it } from 'vitest';
import { wallTextAt } from '@/core/maintenance/wall';
import { DAY_MS, HOUR_MS, MINUTE_MS } from '@/core/time/units';
import { makeCheckin, until } from '../helpers';
import { withinProcess, type Within } from '../within';

interface Window {
  id: number;
  version: string;
  title: string;
  from: string;
  until: string;
  covers: number[];
  recurringId: number | null;
}

interface Recurring {
  id: number;
  version: string;
  inWords: string;
  next: { from: string; until: string }[];
  calledOff: string[];
}

interface Problem {
  code: string;
  errors?: { field: string; message: string }[];
}

const iso = (at: number) => new Date(at).toISOString();
const from = (ms: number) => iso(Date.now() + ms);

describe('maintenance', () => {
  let product: Within;
  withinProcess((one) => (product = one));

  const api = async <T>(method: string, path: string, body?: object) =>
    product.api(method, path, body) as Promise<{ status: number; body: T }>;
  const made = async <T>(path: string, body: object) => {
    const answer = await api<T>('POST', path, body);
    expect(answer.status, JSON.stringify(answer.body)).toBe(201);
    return answer.body;
  };
  const refused = async (method: string, path: string, body: object = {}) => {
    const { status, body: problem } = await api<Problem>(method, path, body);
    const fields = Object.fromEntries((problem.errors ?? []).map(({ field, message }) => [field, message]));
    return { status, code: problem.code, ...fields };
  };
  const stateOf = async (id: number) => (await api<{ state: string }>('GET', `/watches/${id}`)).body.state;
  const rests = (id: number) =>
    until(async () => ((await stateOf(id)) === 'maintenance' ? true : null), `watch ${id} rests`);
  const counts = (id: number) =>
    until(async () => ((await stateOf(id)) === 'maintenance' ? null : true), `watch ${id} counts`);
  const planned = async () => (await api<Window[]>('GET', '/windows?limit=200&order=asc')).body;

  describe('of sections and tags', () => {
    it('is for all of them, and for those that come while it is under way', async () => {
      const first = await makeCheckin(product, { name: 'Winch', section: 'North pier' });
      const tagged = await makeCheckin(product, { name: 'Lamp', tags: ['light'] });
      const sections = (await api<{ id: number; name: string }[]>('GET', '/sections')).body;
      const tags = (await api<{ id: number; name: string }[]>('GET', '/tags')).body;
      const window = await made<Window>('/windows', {
        title: 'Pier works',
        sectionIds: [sections.find(({ name }) => name === 'North pier')!.id],
        tagIds: [tags.find(({ name }) => name === 'light')!.id],
        from: from(-MINUTE_MS),
        until: from(HOUR_MS),
      });
      expect(window.covers).toEqual([first.id, tagged.id]);
      await rests(tagged.id);
      const later = await makeCheckin(product, { name: 'Crane', section: 'North pier' });
      await rests(later.id);
      expect((await api<Window>('GET', `/windows/${window.id}`)).body.covers).toEqual([
        first.id,
        later.id,
        tagged.id,
      ]);
      expect((await api('POST', `/windows/${window.id}/end`)).status).toBe(200);
      await counts(later.id);
    });

    it('is refused where there is none of what it names, or nothing named', async () => {
      const plan = { title: 'Nothing', from: from(HOUR_MS), until: from(2 * HOUR_MS) };
      expect(await refused('POST', '/windows', plan)).toMatchObject({
        watchIds: 'Expected at least one watch, section or tag, got none.',
      });
      expect(await refused('POST', '/windows', { ...plan, sectionIds: [9999] })).toMatchObject({
        sectionIds: 'Expected a section there is, got 9999.',
      });
      expect(await refused('POST', '/windows', { ...plan, tagIds: [9999] })).toMatchObject({
        tagIds: 'Expected a tag there is, got 9999.',
      });
      expect(
        await refused('POST', '/windows', { ...plan, watchIds: [1], until: from(800 * DAY_MS) }),
      ).toMatchObject({ until: 'Expected maintenance of at most a year.' });
    });
  });

  describe('that is under way', () => {
    it('can begin now, last longer, and end now', async () => {
      const { id: watchId } = await makeCheckin(product);
      const { id } = await made<Window>('/windows', {
        title: 'Begun by hand',
        watchIds: [watchId],
        from: from(5 * HOUR_MS),
        until: from(6 * HOUR_MS),
      });
      expect(await refused('POST', `/windows/${id}/end`)).toMatchObject({
        status: 409,
        code: 'window.waiting',
      });
      const begun = (await api<Window>('POST', `/windows/${id}/begin`)).body;
      expect(Math.abs(Date.parse(begun.from) - Date.now())).toBeLessThan(MINUTE_MS);
      await rests(watchId);
      const longer = (await api<Window>('POST', `/windows/${id}/extend`, { minutes: 90 })).body;
      expect(Date.parse(longer.until) - Date.parse(begun.until)).toBe(90 * MINUTE_MS);
      // What is under way is so since it began.
      expect((await api<Window>('POST', `/windows/${id}/begin`)).body.from).toBe(begun.from);
      const ended = (await api<Window>('POST', `/windows/${id}/end`)).body;
      expect(Date.parse(ended.until)).toBeLessThanOrEqual(Date.now());
      await counts(watchId);
      for (const act of ['begin', 'end', 'extend']) {
        const body = act === 'extend' ? { minutes: 5 } : {};
        expect(await refused('POST', `/windows/${id}/${act}`, body)).toMatchObject({
          status: 409,
          code: 'window.over',
        });
      }
      expect(await refused('POST', `/windows/${id}/extend`, { minutes: 0 })).toMatchObject({ status: 422 });
    });
  });

  describe('that comes again', () => {
    const weekly = (watchId: number) => ({
      title: 'Kiosks start anew',
      watchIds: [watchId],
      rule: 'FREQ=WEEKLY;BYDAY=SU',
      zone: 'Pacific/Auckland',
      first: '2026-01-04T02:15',
      lastsMinutes: 45,
    });
    const of = async (id: number) => (await planned()).filter(({ recurringId }) => recurringId === id);

    it('stands in the list for three months, by the clocks of its zone', async () => {
      const { id: watchId } = await makeCheckin(product);
      const series = await made<Recurring>('/recurring-windows', weekly(watchId));
      expect(series.inWords).toBe('every week on Sunday');
      const windows = await of(series.id);
      expect(windows.length).toBeGreaterThanOrEqual(12);
      expect(windows.length).toBeLessThanOrEqual(14);
      expect(windows.slice(0, 6).map((one) => ({ from: one.from, until: one.until }))).toEqual(series.next);
      const zone = 'Pacific/Auckland';
      for (const one of windows) {
        const wall = wallTextAt(Date.parse(one.from), zone);
        expect([wall.slice(11), new Date(`${wall}Z`).getUTCDay()]).toEqual(['02:15', 0]);
      }
    });

    it('keeps what was called off away, and what was moved where it is', async () => {
      const { id: watchId } = await makeCheckin(product);
      const series = await made<Recurring>('/recurring-windows', weekly(watchId));
      const [first, second, third] = (await of(series.id)) as [Window, Window, Window];
      expect((await api('DELETE', `/windows/${first.id}`)).status).toBe(204);
      const moved = await api('PATCH', `/windows/${second.id}`, {
        until: iso(Date.parse(second.until) + HOUR_MS),
      });
      expect(moved.status).toBe(200);
      const changed = await api<Recurring>('PATCH', `/recurring-windows/${series.id}`, {
        version: series.version,
        lastsMinutes: 60,
        title: 'All kiosks start anew',
      });
      expect(changed.body.calledOff).toHaveLength(1);
      const after = await of(series.id);
      expect(after.find(({ id }) => id === second.id)).toMatchObject({
        title: 'Kiosks start anew',
        until: iso(Date.parse(second.until) + HOUR_MS),
      });
      const anew = after.find((one) => one.from === third.from)!;
      expect(anew).toMatchObject({
        title: 'All kiosks start anew',
        until: iso(Date.parse(third.from) + HOUR_MS),
      });
      expect(after.map((one) => one.from)).not.toContain(first.from);
      expect(new Set(after.map((one) => one.from)).size).toBe(after.length);
      expect(
        (
          await api<Problem>('PATCH', `/recurring-windows/${series.id}`, {
            version: series.version,
            title: 'Old',
          })
        ).body.code,
      ).toBe('state.changed');
    });

    it('comes no more once it is ended, while what is under way ends as planned', async () => {
      const { id: watchId } = await makeCheckin(product);
      const series = await made<Recurring>('/recurring-windows', weekly(watchId));
      const [first] = (await of(series.id)) as [Window];
      await api('POST', `/windows/${first.id}/begin`);
      expect((await api('DELETE', `/recurring-windows/${series.id}`)).status).toBe(204);
      expect((await api('GET', `/recurring-windows/${series.id}`)).status).toBe(404);
      expect(await of(series.id)).toEqual([]);
      expect((await api<Window>('GET', `/windows/${first.id}`)).body).toMatchObject({ recurringId: null });
    });

    it('is refused where the rule is none, never comes, or the zone is none', async () => {
      const { id: watchId } = await makeCheckin(product);
      const wrong = (change: object) =>
        refused('POST', '/recurring-windows', { ...weekly(watchId), ...change });
      expect(await wrong({ rule: 'FREQ=SECONDLY' })).toMatchObject({
        rule: 'Expected FREQ to be DAILY, WEEKLY, MONTHLY, YEARLY, got “SECONDLY”.',
      });
      expect(await wrong({ rule: 'FREQ=DAILY;UNTIL=20260201' })).toMatchObject({
        rule: 'Expected a rule that comes again; this one never does from now on.',
      });
      expect(await wrong({ zone: 'Mars/North' })).toMatchObject({
        zone: 'Expected a time zone such as Europe/Lisbon, got "Mars/North".',
      });
      for (const first of ['2026-02-30T02:00', '2026-13-01T02:00']) {
        expect(await wrong({ first })).toMatchObject({
          first: `Expected a day and a time such as 2026-12-06T02:00, got "${first}".`,
        });
      }
      expect(await wrong({ lastsMinutes: 0 })).toMatchObject({ status: 422 });
    });
  });

  describe('before it is planned', () => {
    it('is tried: when it comes, for how many, and what is planned for them then', async () => {
      const { id: watchId } = await makeCheckin(product);
      const plan = { title: 'Dry dock', watchIds: [watchId], from: from(DAY_MS), until: from(2 * DAY_MS) };
      const { id } = await made<Window>('/windows', plan);
      const trial = await api('POST', '/windows/try', {
        recurring: {
          ...{ title: 'Daily', watchIds: [watchId], rule: 'FREQ=DAILY', zone: 'UTC', lastsMinutes: 60 },
          first: iso(Date.now() + 36 * HOUR_MS).slice(0, 16),
        },
      });
      expect(trial).toMatchObject({
        status: 200,
        body: {
          inWords: 'every day',
          watches: 1,
          clashes: [{ windowId: id, title: 'Dry dock', watchIds: [watchId] }],
        },
      });
      const own = await api('POST', '/windows/try', { window: plan, windowId: id });
      expect(own.body).toMatchObject({ inWords: null, clashes: [], times: [{ from: plan.from }] });
      expect(await refused('POST', '/windows/try', {})).toMatchObject({
        title: 'Expected a title, got nothing.',
      });
    });
  });

  describe('as a calendar', () => {
    it('is read, planned, and written again', async () => {
      const { id: watchId } = await makeCheckin(product);
      const day = iso(Date.now() + 10 * DAY_MS)
        .slice(0, 10)
        .replaceAll('-', '');
      const calendar = [
        ...['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//Tern Island Ferries//dock//EN'],
        ...['BEGIN:VEVENT', 'UID:1', 'DTSTAMP:20261101T000000Z', `DTSTART:${day}T100000Z`, 'DURATION:PT2H'],
        ...[
          'SUMMARY:Mast from a calendar',
          'END:VEVENT',
          'BEGIN:VEVENT',
          'UID:2',
          'DTSTAMP:20261101T000000Z',
        ],
        ...['DTSTART;TZID=Europe/Lisbon:20260104T021500', 'DURATION:PT45M', 'RRULE:FREQ=MONTHLY;BYDAY=1SU'],
        ...[
          'SUMMARY:Kiosks from a calendar',
          'END:VEVENT',
          'BEGIN:VEVENT',
          'UID:3',
          'DTSTAMP:20261101T000000Z',
        ],
        ...[
          'DTSTART:20200101T000000Z',
          'DURATION:PT1H',
          'RRULE:FREQ=DAILY;COUNT=3',
          'END:VEVENT',
          'END:VCALENDAR',
          '',
        ],
      ].join('\r\n');
      const before = (await planned()).length;
      const body = { calendar, watchIds: [watchId] };
      const plan = await api('POST', '/windows/calendar/read', body);
      expect(plan.body).toMatchObject({
        windows: [{ title: 'Mast from a calendar' }],
        recurring: [{ title: 'Kiosks from a calendar', inWords: 'every month on the 1st Sunday' }],
        ...{ past: 1, refused: [] },
      });
      expect((await planned()).length).toBe(before);
      expect((await api('POST', '/windows/calendar', body)).body).toEqual(plan.body);
      expect((await planned()).length).toBeGreaterThan(before + 1);
      const written = (await api<{ calendar: string }>('GET', '/windows/calendar')).body.calendar;
      expect(written).toContain('SUMMARY:Mast from a calendar');
      expect(written).toContain('RRULE:FREQ=MONTHLY;BYDAY=1SU');
      // Two calendars in one text are both read.
      const again = await api<{ windows: { title: string }[] }>('POST', '/windows/calendar/read', {
        ...{ calendar: written + calendar, watchIds: [watchId] },
      });
      expect(again.body).toMatchObject({ refused: [] });
      const masts = again.body.windows.filter(({ title }) => title === 'Mast from a calendar');
      expect(masts).toHaveLength(2);
      expect(await refused('POST', '/windows/calendar/read', { ...body, calendar: 'no' })).toMatchObject({
        calendar: 'Expected an iCalendar file that begins with BEGIN:VCALENDAR.',
      });
    });
  });
});
