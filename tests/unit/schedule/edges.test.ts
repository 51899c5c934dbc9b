import { describe, expect, it } from 'vitest';
import { parseCalendar } from '@/core/schedule/calendar';
import { calendarInWords } from '@/core/schedule/calendar-words';
import { cronPattern, daysMustBothHold, nextCron, runsThrough } from '@/core/schedule/cron-times';
import { cronInWords } from '@/core/schedule/cron-words';
import { changeNote, timesInWords } from '@/core/schedule/due-notes';
import { nextCalendar } from '@/core/schedule/next-calendar';
import {
  cronProblem,
  expectedAfter,
  expressionLines,
  isDay,
  nextDue,
  nextDues,
  nextPlannedLook,
  standsForMs,
  timesProblem,
} from '@/core/schedule/schedule';

const zone = 'Europe/Lisbon';
const at = (text: string) => Date.parse(text);
const iso = (ms: number | null) => (ms === null ? null : new Date(ms).toISOString().slice(0, 19));
/** The next few moments of a calendar event in UTC. */
const moments = (text: string, after: string, count = 3) => {
  const event = parseCalendar(text);
  const found: (string | null)[] = [];
  for (let from: number | null = at(after); found.length < count && from !== null;) {
    from = nextCalendar(event, from, 'UTC');
    found.push(iso(from));
  }
  return found;
};

describe('a calendar event in words', () => {
  it.each([
    ['*:*:*', 'Every minute of every hour every second'],
    ['*:30', 'At minute 30 of every hour'],
    ['*:0/15', 'At minute every 15 from 0 on of every hour'],
    ['*:5/1', 'At minute 5 and on of every hour'],
    ['8..17:00', 'At minute 0 of hour 8 to 17'],
    ['8..18/2:00', 'At minute 0 of hour every 2 from 8 to 18'],
    ['8,9,12:05', 'At minute 5 of hour 8, 9 and 12'],
    ['06:30:10', 'At 06:30:10'],
    ['06:30:*', 'At 06:30 every second'],
    ['06:30:5..9', 'At 06:30 at second 5 to 9'],
    ['06:30:0/20', 'At 06:30 at second every 20 from 0 on'],
    ['06:30:0', 'At 06:30'],
    ['*:30:10', 'At minute 30 of every hour at second 10'],
    ['Mon,Wed 06:30', 'At 06:30, Monday and Wednesday'],
    ['Mon,Tue 06:30', 'At 06:30, Monday and Tuesday'],
    ['Mon,Tue,Thu 06:30', 'At 06:30, Monday, Tuesday and Thursday'],
    ['Tue..Thu 06:30', 'At 06:30, Tuesday to Thursday'],
    ['Sat,Sun,Mon 06:30', 'At 06:30, Monday, Saturday and Sunday'],
    ['*-*-1 04:00', 'At 04:00, day 1 of the month'],
    ['*-*~1 04:00', 'At 04:00, day 1 from the end of the month'],
    ['*-*~1..3 04:00', 'At 04:00, day 1 to 3 from the end of the month'],
    ['*-2,12-24 04:00', 'At 04:00, day 24 of February and December'],
    ['*-6..8-* 04:00', 'At 04:00, every day of June to August'],
    ['2027-*-* 04:00', 'At 04:00, every day in 2027'],
    ['2027-1-1 04:00', 'At 04:00, day 1 of January in 2027'],
    ['06:30 Europe/Lisbon', 'At 06:30, Europe/Lisbon time'],
    ['Sun', 'At 00:00, Sunday'],
    ['quarterly', 'At 00:00, day 1 of January, April, July and October'],
    ['nonsense', null],
  ])('%s: %s', (expression, words) => {
    expect(calendarInWords(expression)).toBe(words);
  });

  it('knows all months and weekdays', () => {
    const months = Array.from(
      { length: 12 },
      (_, i) => calendarInWords(`*-${i + 1}-1 00:00`)!.split(' of ')[1],
    );
    const names = 'January February March April May June July August September October November December';
    expect(months.join(' ')).toBe(names);
    const days = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'].map(
      (day) => calendarInWords(day)!.split(', ')[1],
    );
    expect(days.join(' ')).toBe('Monday Tuesday Wednesday Thursday Friday Saturday Sunday');
  });
});

describe('what a calendar event is read as', () => {
  it.each([
    ['06:30:15.123456', '06:30:15'],
    ['  06:30  ', '06:30'],
    ['Mon,   06:30', 'Mon 06:30'],
    ['Monday 06:30', 'mon 06:30'],
    ['2027-03-01T06:30', '2027-03-01 06:30'],
    ['2027-03-01   06:30   UTC', '2027-03-01 06:30 UTC'],
    ['DAILY', '*-*-* 00:00:00'],
    ['weekly   UTC', 'Mon *-*-* 00:00:00 UTC'],
    ['Fri-Sat 1:00', 'Fri..Sat 1:00'],
    ['27-1-1', '2027-1-1'],
    ['70-1-1', '1970-1-1'],
  ])('%j is %j', (text, same) => {
    expect(parseCalendar(text)).toEqual(parseCalendar(same));
  });

  it.each([
    ['Mo 06:30', 'Expected a weekday such as Mon, got “Mo”.', 0],
    ['Mond 06:30', 'Expected a weekday such as Mon, got “Mond”.', 0],
    ['Mon, 06:30', null, 0],
    ['Mon..5', 'Expected a weekday such as Mon, got none.', 5],
    ['Sun..Mon 06:30', 'Expected weekdays that rise from Mon to Sun; write Sat,Sun,Mon.', 0],
    ['*-13-1', 'Expected a month from 1 to 12, got 13.', 2],
    ['*-9..3-1', 'Expected a range that rises, got 9..3.', 2],
    ['*-9..9-1', null, 0],
    ['06:0/0', 'Expected a step of 1 or more, got 0.', 6],
    ['06:0/x', 'Expected a step, got “x”.', 5],
    ['06:50/20', 'Expected a step that stays below 59, got 50/20.', 8],
    ['06:59/1', null, 0],
    ['06:40/19', null, 0],
    ['06:40/20', 'Expected a step that stays below 59, got 40/20.', 8],
    ['06', 'Expected “:” and minutes, got the end.', 2],
    ['2027-1', 'Expected', 0],
    ['*-x-1', 'Expected a month, got “x-1”.', 2],
    ['2027~1-1', 'Expected “-” and a month, got “~1-1”.', 4],
    ['1..3x-5', 'Expected “-” and a day, got “x-5”.', 4],
    ['06:30 Tern/Island', 'Expected the end or a time zone such as Europe/Lisbon, got “Tern/Island”.', 6],
    ['06:30 UTC now', 'Expected the end, got “now”.', 10],
    ['daily UTC now', 'Expected', 0],
    ['!', 'Expected a weekday, a date or a time, got “!”.', 0],
    ['  ', 'Expected a calendar event such as Mon..Fri 06:30, got nothing.', 2],
    ['   *-13-1', 'Expected a month from 1 to 12, got 13.', 5],
  ])('%j: %s', (text, problem, position) => {
    const wrong = (() => {
      try {
        parseCalendar(text);
        return null;
      } catch (error) {
        return error as { message: string; position: number };
      }
    })();
    if (problem === null) expect(wrong).toBeNull();
    else expect(wrong!.message).toContain(problem);
    if (problem && problem.length > 10) expect(wrong!.position).toBe(position);
  });
});

describe('when a calendar event comes', () => {
  it.each([
    [
      '*:*:0/20',
      '2026-11-24T23:59:30Z',
      ['2026-11-24T23:59:40', '2026-11-25T00:00:00', '2026-11-25T00:00:20'],
    ],
    [
      '8..12/2:15',
      '2026-11-24T08:15:00Z',
      ['2026-11-24T10:15:00', '2026-11-24T12:15:00', '2026-11-25T08:15:00'],
    ],
    [
      '13:45:50',
      '2026-11-24T13:45:49Z',
      ['2026-11-24T13:45:50', '2026-11-25T13:45:50', '2026-11-26T13:45:50'],
    ],
    [
      '*-*~1 12:00',
      '2028-01-31T12:00:00Z',
      ['2028-02-29T12:00:00', '2028-03-31T12:00:00', '2028-04-30T12:00:00'],
    ],
    [
      '*-2~1..3 00:00',
      '2027-01-01T00:00:00Z',
      ['2027-02-26T00:00:00', '2027-02-27T00:00:00', '2027-02-28T00:00:00'],
    ],
    [
      '*-2~2..4/2 00:00',
      '2027-01-01T00:00:00Z',
      ['2027-02-25T00:00:00', '2027-02-27T00:00:00', '2028-02-26T00:00:00'],
    ],
    [
      '*-2~5/2 00:00',
      '2027-01-01T00:00:00Z',
      ['2027-02-24T00:00:00', '2027-02-26T00:00:00', '2027-02-28T00:00:00'],
    ],
    [
      '*-2~7/3 00:00',
      '2027-01-01T00:00:00Z',
      ['2027-02-22T00:00:00', '2027-02-25T00:00:00', '2027-02-28T00:00:00'],
    ],
    [
      '*-2~1..7/3 00:00',
      '2027-01-01T00:00:00Z',
      ['2027-02-22T00:00:00', '2027-02-25T00:00:00', '2027-02-28T00:00:00'],
    ],
    [
      '*-2~2..7/4 00:00',
      '2027-01-01T00:00:00Z',
      ['2027-02-23T00:00:00', '2027-02-27T00:00:00', '2028-02-24T00:00:00'],
    ],
    [
      '*-2~1,5 00:00',
      '2027-01-01T00:00:00Z',
      ['2027-02-24T00:00:00', '2027-02-28T00:00:00', '2028-02-25T00:00:00'],
    ],
    [
      '*-2~* 00:00',
      '2027-02-27T00:00:00Z',
      ['2027-02-28T00:00:00', '2028-02-01T00:00:00', '2028-02-02T00:00:00'],
    ],
    [
      '*-1/6-15 00:00',
      '2026-12-01T00:00:00Z',
      ['2027-01-15T00:00:00', '2027-07-15T00:00:00', '2028-01-15T00:00:00'],
    ],
    ['2027-12-31 00:00', '2026-12-01T00:00:00Z', ['2027-12-31T00:00:00', null]],
    ['2030..2032/2-1-1 00:00', '2026-12-01T00:00:00Z', ['2030-01-01T00:00:00', '2032-01-01T00:00:00', null]],
    [
      'Sun *-2-29 00:00',
      '2026-12-01T00:00:00Z',
      ['2032-02-29T00:00:00', '2060-02-29T00:00:00', '2088-02-29T00:00:00'],
    ],
    ['2199-12-31 23:59:59', '2026-12-01T00:00:00Z', ['2199-12-31T23:59:59', null]],
  ])('%s after %s', (text, after, expected) => {
    expect(moments(text, after, expected.length)).toEqual(expected);
  });
});

describe('cron, field by field', () => {
  it('takes a step in one of the days for both only as Debian’s does', () => {
    const both = (expression: string) => daysMustBothHold(expression, 'debian');
    expect([both('0 6 */2 * 1'), both('0 6 1 * */2'), both('0 6 1 * 1'), both('@weekly')]).toEqual([
      true,
      true,
      false,
      true,
    ]);
    expect(daysMustBothHold('0 6 */2 * 1', 'usual')).toBe(false);
    const second = iso(nextCron('0 6 */2 * 1', 'UTC', at('2026-11-24T00:00:00Z'), 'debian'));
    expect(second).toBe('2026-12-07T06:00:00');
    expect(iso(nextCron('0 6 */2 * 1', 'UTC', at('2026-11-24T00:00:00Z')))).toBe('2026-11-25T06:00:00');
    expect(cronPattern('0 6 */2 * 1', 'debian')).not.toBe(cronPattern('0 6 */2 * 1'));
    expect(cronPattern('0 6 */2 * 1')).toBe(cronPattern('0 6 */2 * 1'));
    expect(() => cronPattern('0 0 6 * * *')).toThrow();
  });

  it('runs by the hour that passes where minutes or hours are open', () => {
    expect(
      ['*/5 1 * * *', '0 * * * *', '0 */2 * * *', '5-55/5 1 * * *', '0 1 * * *'].map(runsThrough),
    ).toEqual([true, true, true, false, false]);
    expect([runsThrough('@hourly'), runsThrough(' @Daily ')]).toEqual([true, false]);
  });

  it('goes on through both hours that are shown alike', () => {
    // Lisbon: 25 October 2026, back from 02:00 to 01:00 at 01:00 UTC.
    const times: (string | null)[] = [];
    for (let from = at('2026-10-24T23:59:59Z'); times.length < 5;) {
      from = nextCron('*/30 1 * * *', zone, from)!;
      times.push(iso(from));
    }
    expect(times).toEqual([
      '2026-10-25T00:00:00',
      '2026-10-25T00:30:00',
      '2026-10-25T01:00:00',
      '2026-10-25T01:30:00',
      '2026-10-26T01:00:00',
    ]);
    const named: (string | null)[] = [];
    for (let from = at('2026-10-24T23:59:59Z'); named.length < 3;) {
      from = nextCron('0,30 1 * * *', zone, from)!;
      named.push(iso(from));
    }
    expect(named).toEqual(['2026-10-25T00:00:00', '2026-10-25T00:30:00', '2026-10-26T01:00:00']);
  });

  it('makes up right after the jump for a time that is skipped, and leaves out what is open', () => {
    const after = at('2026-03-29T00:59:00Z');
    expect(iso(nextCron('30 1 * * *', zone, after))).toBe('2026-03-29T01:00:00');
    expect(iso(nextCron('*/20 1 * * *', zone, after))).toBe('2026-03-30T00:00:00');
    expect(iso(nextCron('15,45 1 * * *', zone, at('2026-03-29T01:00:00Z')))).toBe('2026-03-30T00:15:00');
  });

  it('is put into words that say whether both days must fit', () => {
    expect(cronInWords('0 6 1 * 1')).toMatch(/ \(either the day of the month or the weekday is enough\)$/);
    expect(cronInWords('0 6 */2 * 1', 'debian')).toMatch(
      / \(both the day of the month and the weekday must fit\)$/,
    );
    expect(cronInWords('0 6 * * 1')).toBe('At 06:00, only on Monday');
    expect(cronInWords('0 18 1 * *')).toBe('At 18:00, on day 1 of the month');
    expect(cronInWords('61 x')).toBeNull();
  });
});

it('a line of times stands for itself, however it is set in', () => {
  expect(expressionLines('  30 2 * * *\t\n\n  # at night\n@daily')).toEqual(['30 2 * * *', '@daily']);
});

describe('what cannot be used', () => {
  const problem = (expression: string, type: 'cron' | 'calendar' = 'cron', rest: object = {}) =>
    timesProblem({ type, expression, zone, ...rest }, at('2026-11-24T00:00:00Z'));

  it.each([
    ['', 'Expected five fields (minute hour day month weekday), got 0.'],
    ['# 0 1 * * *', 'Expected five fields (minute hour day month weekday), got 0.'],
    ['@reboot', 'Expected times; @reboot has none. Choose a period, or none but notes.'],
    ['@Reboot', 'Expected times; @reboot has none. Choose a period, or none but notes.'],
    ['x@reboot', 'Expected five fields (minute hour day month weekday), got 1.'],
    ['0 1 * *', 'Expected five fields (minute hour day month weekday), got 4.'],
    [
      '0 0 1 * * *',
      'Expected five fields (minute hour day month weekday), got 6. Leave out the seconds, or the user or command behind the times.',
    ],
    ['0 1 30 2 *', 'This expression never comes due.'],
    [
      '0  25 * * *',
      'Expected an hour (0 to 23; with lists a,b, ranges a-b and steps */n) at character 4, got “25”.',
    ],
    [
      '0 1 * 13 *',
      'Expected a month (1 to 12, or Jan to Dec; with lists a,b, ranges a-b and steps */n) at character 7, got “13”.',
    ],
    ['0 1 * * *\n0 1 30 2 *', 'Line 2: This expression never comes due.'],
  ])('cron %j: %s', (expression, sentence) => {
    expect(problem(expression)).toBe(sentence);
  });

  it('is told for shorthands nobody knows, and for calendar events by where', () => {
    expect(problem('@rebooted')).toMatch(/^This cron expression cannot be read: /);
    expect(problem('@fortnightly')).toMatch(/^This cron expression cannot be read: (?!CronPattern).*\.$/);
    expect(problem('', 'calendar')).toBe('Expected a calendar event such as Mon..Fri 06:30, got nothing.');
    expect(problem('*-13-1', 'calendar')).toBe('Expected a month from 1 to 12, got 13, at character 3.');
    expect(problem('2020-1-1', 'calendar')).toBe('This expression never comes due any more.');
    expect(problem('2027-1-1', 'calendar')).toBeNull();
  });

  it('is the same where only cron and a zone are given', () => {
    expect(cronProblem('0 1 * *', zone)).toBe('Expected five fields (minute hour day month weekday), got 4.');
    expect(cronProblem('0 1 * * *', zone)).toBeNull();
    expect(cronProblem('0 1 * * *', 'Tern/Island')).toContain('Expected a time zone');
  });

  it('is told for zones and days off', () => {
    expect(problem('0 1 * * *', 'cron', { zone: 'Tern/Island' })).toBe(
      'Expected a time zone such as Europe/Lisbon, got "Tern/Island".',
    );
    expect(problem('0 1 * * *', 'cron', { daysOff: ['2026-12-25', '2026-02-30'] })).toBe(
      'Expected days off such as 2026-12-25, got “2026-02-30”.',
    );
    expect(problem('0 1 * * *', 'cron', { daysOff: ['2026-12-25'] })).toBeNull();
  });

  it.each(['2026-12-25', '2028-02-29'])('%s is a day', (text) => expect(isDay(text)).toBe(true));
  it.each([
    '2026-02-30',
    '2026-2-3',
    '26-12-25',
    'x2026-12-25',
    '2026-12-25x',
    '2026-1a-25',
    '2a26-12-25',
    '',
    '2026-12-2a',
    // These are whole years and months (ISO 8601).
    '2026',
    '2026-12',
  ])('%j is none', (text) => expect(isDay(text)).toBe(false));
});

describe('due times over days', () => {
  const cron = { type: 'cron' as const, expression: '  30 2 * * *  \n# none\n\n0 14 * * 6', zone };

  it('are those of all lines, without days off, however many follow each other', () => {
    const daysOff = ['2026-11-27', '2026-11-28', '2026-11-29'];
    const times = (off: string[], count = 3) =>
      nextDues({ ...cron, daysOff: off }, at('2026-11-27T00:00:00Z'), count).map(iso);
    expect(times([])).toEqual(['2026-11-27T02:30:00', '2026-11-28T02:30:00', '2026-11-28T14:00:00']);
    expect(times(daysOff, 1)).toEqual(['2026-11-30T02:30:00']);
    const only = { ...cron, expression: '0 0 25 12 *', daysOff: ['2026-12-25', '2027-12-25'] };
    expect(iso(nextDue(only, at('2026-11-27T00:00:00Z')))).toBe('2028-12-25T00:00:00');
    expect(nextDue({ ...cron, type: 'calendar', expression: '2020-1-1' }, 0)).not.toBeNull();
    expect(
      nextDue({ ...cron, type: 'calendar', expression: '2020-1-1' }, at('2026-11-27T00:00:00Z')),
    ).toBeNull();
    expect(
      nextDues({ ...cron, type: 'calendar', expression: '2027-1-1' }, at('2026-11-27T00:00:00Z'), 9),
    ).toHaveLength(1);
  });

  it('that a check-in came just ahead of count as met', () => {
    const hourly = { type: 'cron' as const, expression: '0 * * * *', zone: 'UTC' };
    expect(iso(expectedAfter(hourly, at('2026-11-27T00:55:00Z')))).toBe('2026-11-27T02:00:00');
    expect(iso(expectedAfter(hourly, at('2026-11-27T00:54:59Z')))).toBe('2026-11-27T01:00:00');
    const often = { ...hourly, expression: '*/4 * * * *' };
    expect(iso(expectedAfter(often, at('2026-11-27T00:03:00Z')))).toBe('2026-11-27T00:08:00');
    expect(iso(expectedAfter(often, at('2026-11-27T00:02:59Z')))).toBe('2026-11-27T00:04:00');
    const once = { type: 'calendar' as const, expression: '2027-1-1', zone: 'UTC' };
    expect(iso(expectedAfter(once, at('2026-12-31T23:59:59Z')))).toBe('2027-01-01T00:00:00');
    expect(expectedAfter(once, at('2027-01-01T00:00:00Z'))).toBeNull();
    expect(expectedAfter({ type: 'period', everyMs: 1000 }, 5)).toBe(1005);
  });

  it('of looks stand until the next one, and no longer than the shortest gap', () => {
    const plan = {
      everyMs: 60_000,
      cron: { type: 'cron' as const, expression: '0 8-10 * * *', zone: 'UTC' },
    };
    expect(standsForMs(plan, at('2026-11-27T08:00:00Z'))).toBe(3_600_000);
    expect(standsForMs(plan, at('2026-11-27T09:30:00Z'))).toBe(1_800_000);
    expect(standsForMs(plan, at('2026-11-27T10:00:00Z'))).toBe(3_600_000);
    expect(standsForMs(plan, at('2026-11-27T08:15:00Z'))).toBe(2_700_000);
    expect(standsForMs({ everyMs: 7000 }, 5)).toBe(7000);
    const once = { everyMs: 7000, cron: { type: 'calendar' as const, expression: '2027-1-1', zone: 'UTC' } };
    expect(standsForMs(once, at('2026-12-31T23:00:00Z'))).toBe(7000);
    // Known from before, and only for as long as the same due time is the next.
    expect(standsForMs(plan, at('2026-11-27T08:20:00Z'))).toBe(2_400_000);
    expect(standsForMs(plan, at('2026-11-27T07:50:00Z'))).toBe(600_000);
    const never = { everyMs: 7000, cron: { type: 'cron' as const, expression: '0 0 30 2 *', zone: 'UTC' } };
    expect(standsForMs(never, 5)).toBe(7000);
    expect(nextPlannedLook(never, 0, 1000)).toBe(7000);
    expect(iso(nextPlannedLook(plan, 3, at('2026-11-27T08:15:00Z')))).toBe('2026-11-27T09:00:00');
  });

  it('are told in words line by line, or not at all', () => {
    expect(timesInWords({ ...cron, expression: '0 1 * * *\nnonsense' })).toBeNull();
    expect(timesInWords({ ...cron, expression: '# none' })).toBeNull();
    expect(timesInWords({ ...cron, type: 'calendar', expression: '06:30\n07:30' })).toBe(
      'At 06:30; and At 07:30',
    );
    expect(timesInWords({ ...cron, expression: '0 6 */2 * 1', dialect: 'debian' })).toContain('both the day');
  });

  it('near a change of the clocks are told what it does', () => {
    const forward = at('2026-03-29T12:00:00Z');
    const back = at('2026-10-25T12:00:00Z');
    const named = { ...cron, expression: '30 1 * * *' };
    const open = { ...cron, expression: '*/30 * * * *' };
    expect(changeNote(named, forward)).toBe(
      'Clocks go forward by 1 h after 00:59, to 02:00: a time in between is due right after the jump.',
    );
    expect(changeNote(open, forward)).toMatch(/: a time in between is not due that day\.$/);
    expect(changeNote({ ...named, type: 'calendar', expression: '01:30' }, forward)).toMatch(
      /not due that day\.$/,
    );
    expect(changeNote(named, back)).toBe(
      'Clocks go back by 1 h after 01:59, to 01:00: a time that is shown twice is due once, the first time.',
    );
    expect(changeNote(open, back)).toMatch(/: it goes on through both hours that are shown alike\.$/);
    expect(changeNote({ ...open, expression: '*/30 * * * *\n30 1 * * *' }, back)).toMatch(
      /the first time\.$/,
    );
    expect(changeNote({ ...open, type: 'calendar', expression: '*:0/30' }, back)).toMatch(
      /the first time\.$/,
    );
    expect(changeNote(named, at('2026-03-27T12:00:00Z'))).toBeNull();
  });
});
