import { describe, expect, it } from 'vitest';
import { daysOffOf } from '@/core/schedule/days-off';

const calendar = (...events: string[][]) =>
  [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    ...events.flatMap((lines) => ['BEGIN:VEVENT', ...lines, 'END:VEVENT']),
    'END:VCALENDAR',
  ].join('\r\n');
const file = (...events: string[]) => calendar(...events.map((event) => [event]));
const daysOf = (...events: string[][]) => daysOffOf(calendar(...events), '2026-11-25');

describe('days off from a calendar file', () => {
  it('are those of all-day events, single, over days and recurring, in order', () => {
    const text = file(
      'UID:1\r\nDTSTART;VALUE=DATE:20261225\r\nDTEND;VALUE=DATE:20261227',
      'UID:2\r\nDTSTART;VALUE=DATE:20261201\r\nRRULE:FREQ=YEARLY;COUNT=2',
      'UID:3\r\nDTSTART:20261210T080000Z',
      'UID:4\r\nDTSTART;VALUE=DATE:20261130',
      'UID:5\r\nDTSTART;VALUE=DATE:20200101\r\nRRULE:FREQ=YEARLY',
      'UID:6\r\nSUMMARY:no beginning',
    );
    expect(daysOffOf(text, '2026-11-24')).toEqual([
      '2026-11-30',
      '2026-12-01',
      '2026-12-25',
      '2026-12-26',
      '2027-01-01',
      '2027-12-01',
      '2028-01-01',
      '2029-01-01',
    ]);
  });

  it('begin on the day asked for and end three years later', () => {
    const daily = file('UID:1\r\nDTSTART;VALUE=DATE:20261101\r\nRRULE:FREQ=MONTHLY;BYMONTHDAY=24');
    const days = daysOffOf(daily, '2026-11-24');
    expect([days[0], days.at(-1)]).toEqual(['2026-11-24', '2029-10-24']);
  });

  it('leave out what was called off, moved, or taken out of what comes again', () => {
    const monthly = ['DTSTART;VALUE=DATE:20261201', 'UID:a', 'RRULE:FREQ=MONTHLY;COUNT=5'];
    const days = daysOf(
      [...monthly, 'EXDATE;VALUE=DATE:20270101'],
      ['DTSTART;VALUE=DATE:20270202', 'UID:a', 'RECURRENCE-ID;VALUE=DATE:20270201'],
      ['DTSTART;VALUE=DATE:20270301', 'UID:a', 'RECURRENCE-ID;VALUE=DATE:20270301', 'STATUS:CANCELLED'],
      [
        'DTSTART;VALUE=DATE:20270401',
        'UID:a',
        'RECURRENCE-ID;VALUE=DATE:20270401',
        'SUMMARY:By another name',
      ],
      ['UID:b', 'DTSTART;VALUE=DATE:20261224', 'STATUS:Cancelled'],
    );
    expect(days).toEqual(['2026-12-01', '2027-02-02', '2027-04-01']);
    // Another event of the same days stays.
    expect(daysOf(monthly, [monthly[0]!, 'UID:b', 'RECURRENCE-ID;VALUE=DATE:20270101'])).toContain(
      '2027-01-01',
    );
  });

  it('hold the beginning and the days that are named one by one', () => {
    const named = ['DTSTART;VALUE=DATE:20261201', 'RDATE;VALUE=DATE:20261205,20261224'];
    expect(daysOf(named)).toEqual(['2026-12-01', '2026-12-05', '2026-12-24']);
    expect(daysOf([...named, 'EXDATE;VALUE=DATE:20261201,20261224'])).toEqual(['2026-12-05']);
  });

  it('are laid out only for the years asked for, however long an event lasts', () => {
    const ages = calendar(['DTSTART;VALUE=DATE:00010101', 'DTEND;VALUE=DATE:99991231']);
    const days = daysOffOf(ages, '2026-11-25');
    expect([days.length, days[0]]).toEqual([1000, '2026-11-25']);
    const over = calendar(['DTSTART;VALUE=DATE:20261120', 'DTEND;VALUE=DATE:20261127']);
    expect(daysOffOf(over, '2026-11-25')).toEqual(['2026-11-25', '2026-11-26']);
  });

  it('are refused, not cut, where they go on for more rounds than are gone', () => {
    const daily = ['SUMMARY:Every day', 'DTSTART;VALUE=DATE:18000101', 'RRULE:FREQ=DAILY'];
    const said =
      'Expected events that can be laid out; “Every day” cannot: it goes back too far to be laid out';
    expect(() => daysOffOf(calendar(daily), '2026-11-25')).toThrow(new Error(said));
    const many = Array.from({ length: 5001 }, () => ['DTSTART;VALUE=DATE:20270101']);
    expect(() => daysOffOf(calendar(...many), '2026-11-25')).toThrow(
      new Error('Expected at most 5000 events, got 5001.'),
    );
    expect(daysOffOf(calendar(...many.slice(1)), '2026-11-25')).toEqual(['2027-01-01']);
  });

  it('are refused with the event that is none', () => {
    const said = (...lines: string[]) => {
      try {
        return daysOf(['SUMMARY:Yule', ...lines]);
      } catch (error) {
        return (error as Error).message.replace(
          'Expected events that can be laid out; “Yule” cannot: ',
          '… ',
        );
      }
    };
    expect(said('DTSTART;VALUE=DATE:20270230')).toBe('… “2027-02-30” is no time there is.');
    expect(said('DTSTART;VALUE=DATE:yule')).toMatch(/^… “yule.*” is no time there is\.$/);
    expect(said('DTSTART;VALUE=DATE:20261201', 'DURATION:soon')).toMatch(/^… invalid duration value/);
    expect(said('DTSTART;VALUE=DATE:20261201', 'RRULE:FREQ=SECONDLY')).toMatch(
      /^… Same occurrence found twice/,
    );
  });
});
