import { describe, expect, it } from 'vitest';
import { CalendarError, parseCalendar } from '@/core/schedule/calendar';
import { nextCalendar } from '@/core/schedule/next-calendar';
import { nextDues, timesProblem, type Schedule } from '@/core/schedule/schedule';

const zone = 'Europe/Lisbon';
const at = (text: string) => Date.parse(text);
const calendar = (expression: string): Schedule => ({ type: 'calendar', expression, zone });
const dues = (expression: string, after: string, count: number) =>
  nextDues(calendar(expression), at(after), count).map((due) => new Date(due).toISOString().slice(0, 16));

describe('calendar events', () => {
  it.each([
    ['Mon..Fri *-*-* 06:30', ['2026-11-24T06:30', '2026-11-25T06:30', '2026-11-26T06:30']],
    ['Sat *-*-1..7 18:00', ['2026-12-05T18:00', '2027-01-02T18:00', '2027-02-06T18:00']],
    ['*-*~1', ['2026-11-30T00:00', '2026-12-31T00:00', '2027-01-31T00:00']],
    ['*-02~3/1 12:00', ['2027-02-26T12:00', '2027-02-27T12:00', '2027-02-28T12:00']],
    ['12-24', ['2026-12-24T00:00', '2027-12-24T00:00', '2028-12-24T00:00']],
    ['5,6,7/6:30', ['2026-11-23T13:30', '2026-11-23T19:30', '2026-11-24T05:30']],
    ['weekly', ['2026-11-30T00:00', '2026-12-07T00:00', '2026-12-14T00:00']],
    ['10:00 Europe/Paris', ['2026-11-24T09:00', '2026-11-25T09:00', '2026-11-26T09:00']],
    ['monday 9:5', ['2026-11-30T09:05', '2026-12-07T09:05', '2026-12-14T09:05']],
    ['2027-1-1/3', ['2027-01-01T00:00', '2027-01-04T00:00', '2027-01-07T00:00']],
    ['08:00:00.5\n20:00', ['2026-11-23T20:00', '2026-11-24T08:00', '2026-11-24T20:00']],
  ])('%j comes at %j', (expression, expected) => {
    expect(dues(expression, '2026-11-23T12:00:00Z', 3)).toEqual(expected);
  });

  it('do not come where daylight saving skips them, and once where they are shown twice', () => {
    expect(dues('01:30', '2026-03-28T12:00:00Z', 2)).toEqual(['2026-03-30T00:30', '2026-03-31T00:30']);
    expect(dues('01:30', '2026-10-24T12:00:00Z', 2)).toEqual(['2026-10-25T00:30', '2026-10-26T01:30']);
    expect(dues('hourly', '2026-10-24T23:30:00Z', 3)).toEqual([
      '2026-10-25T00:00',
      '2026-10-25T02:00',
      '2026-10-25T03:00',
    ]);
  });

  it.each([
    ['', 0, 'Expected a calendar event such as Mon..Fri 06:30, got nothing.'],
    ['24:00', 0, 'Expected an hour from 0 to 23, got 24.'],
    ['Fri..Mon', 0, 'Expected weekdays that rise from Mon to Sun; write Sat,Sun,Mon.'],
    ['Mon..', 5, 'Expected a weekday such as Mon, got none.'],
    ['Monkey 06:00', 0, 'Expected a weekday such as Mon, got “Monkey”.'],
    ['*-13-01', 2, 'Expected a month from 1 to 12, got 13.'],
    ['*-10..2', 2, 'Expected a range that rises, got 10..2.'],
    ['06:3x', 4, 'Expected the end or a time zone such as Europe/Lisbon, got “x”.'],
    ['06:00 Mars/Base', 6, 'Expected the end or a time zone such as Europe/Lisbon, got “Mars/Base”.'],
    ['*-*-* */6:0', 7, 'Expected “:” and minutes, got “/6:0”.'],
    ['  06:0/0', 8, 'Expected a step of 1 or more, got 0.'],
    ['*-11/9-2', 6, 'Expected a step that stays below 12, got 11/9.'],
    ['1', 1, 'Expected “:” and minutes, got the end.'],
    ['06:00 UTC more', 10, 'Expected the end, got “more”.'],
  ])('%j is refused at character %i, with what was expected', (text, position, message) => {
    let caught: unknown;
    try {
      parseCalendar(text);
    } catch (error) {
      caught = error;
    }
    expect(caught).toBeInstanceOf(CalendarError);
    expect((caught as CalendarError).message).toBe(message);
    expect((caught as CalendarError).position).toBe(position);
  });

  it('that are past never come any more, and the sentence says so', () => {
    expect(nextCalendar(parseCalendar('2014-03-25'), at('2026-11-23'), zone)).toBeNull();
    const past = { type: 'calendar' as const, expression: '2014-03-25', zone };
    expect(timesProblem(past, at('2026-11-23'))).toBe('This expression never comes due any more.');
    expect(timesProblem({ ...past, expression: '06:00\nMon 25:00' })).toBe(
      'Line 2: Expected an hour from 0 to 23, got 25, at character 5.',
    );
    expect(timesProblem({ ...past, expression: ' ' })).toContain('got nothing');
  });
});
