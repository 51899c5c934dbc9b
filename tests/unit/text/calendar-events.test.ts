import type ICAL from 'ical.js';
import { describe, expect, it } from 'vitest';
import { calendarEvents, eventTimes, eventTitle, isCancelled } from '@/core/text/calendar-events';

const one = (...lines: string[]) =>
  ['BEGIN:VCALENDAR', 'BEGIN:VEVENT', ...lines, 'END:VEVENT', 'END:VCALENDAR', ''].join('\r\n');
const titles = (text: string) => calendarEvents(text).map(eventTitle);

describe('the events of a calendar', () => {
  it('are those of all calendars in a text, whatever it begins with and its lines end with', () => {
    const text = one('SUMMARY:Mast') + one('SUMMARY:Dock');
    expect(titles(text)).toEqual(['Mast', 'Dock']);
    expect(titles(`\uFEFF${text.replaceAll('\r\n', '\n')}`)).toEqual(['Mast', 'Dock']);
    expect(titles(`\r\n${one().toLowerCase()}`)).toEqual(['An event without a title']);
    expect(titles('BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n')).toEqual([]);
  });

  it('are refused where the text is none, or goes wrong within', () => {
    const said = (text: string) => () => calendarEvents(text);
    const none = new Error('Expected an iCalendar file that begins with BEGIN:VCALENDAR.');
    for (const text of [
      '',
      'dear harbour master',
      `${' '.repeat(3)}X-BEGIN:VCALENDAR `,
      'BEGIN:VCALENDARS',
      'END:VCALENDAR',
      'BEGIN:VCARD\nEND:VCARD',
    ]) {
      expect(said(text)).toThrow(none);
    }
    const within = 'Expected an iCalendar file (RFC 5545), and got something in it that is none: ';
    expect(said(one('at noon'))).toThrow(`${within}invalid line (no token ";" or ":") "at noon".`);
    expect(said(one('a'.repeat(200)))).toThrow(/"a{84}\.$/);
    expect(said(`${one()}SUMMARY:Mast\r\n`)).toThrow(`${within}parts of it do not fit together.`);
    expect(said('BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\n')).toThrow(`${within}invalid ical body.`);
  });
});

describe('an event', () => {
  const title = (text: string) => eventTitle(calendarEvents(one(`SUMMARY:${text}`))[0]!);

  it('is called by its summary, as far as that goes', () => {
    expect(title('  Mast ')).toBe('Mast');
    expect(title('m'.repeat(130))).toBe('m'.repeat(120));
    // A mark that says how text is written stands only before all of it.
    expect(title('\uFEFFMast')).toBe('Mast');
    expect(title('Mast\uFEFFhead')).toBe('Mast\uFEFFhead');
  });

  it('was called off where it says so', () => {
    const isOff = (...lines: string[]) => isCancelled(calendarEvents(one(...lines))[0]!);
    expect(isOff('STATUS:cancelled')).toBe(true);
    expect(isOff('STATUS:CONFIRMED')).toBe(false);
    expect(isOff('SUMMARY:CANCELLED')).toBe(false);
  });
});

describe('a time of an event', () => {
  const times = (line: string) =>
    eventTimes(calendarEvents(one(line))[0]!.getFirstProperty()!).map((time: ICAL.Time) => time.toString());

  it('is one there is', () => {
    expect(times('DTSTART:20261201T103005Z')).toEqual(['2026-12-01T10:30:05Z']);
    expect(times('EXDATE;VALUE=DATE:20261201,20280229')).toEqual(['2026-12-01', '2028-02-29']);
    expect(
      eventTimes(calendarEvents(one('DTSTART;VALUE=DATE:00010101'))[0]!.getFirstProperty()!),
    ).toHaveLength(1);
  });

  it.each([
    ['DTSTART:20270230T100000Z', '2027-02-30T10:00:00Z'],
    ['DTSTART:20271301T100000', '2027-13-01T10:00:00'],
    ['DTSTART:20270101T240000', '2027-01-01T24:00:00'],
    ['DTSTART:20270101T106000', '2027-01-01T10:60:00'],
    ['DTSTART;VALUE=DATE:20270100', '2027-01-00'],
    ['EXDATE;VALUE=DATE:20270101,20270132', '2027-01-32'],
    ['DTSTART:', '--T::'],
    // What is read holds no more of it than a time has room for.
    [`DTSTART;VALUE=DATE:${'x'.repeat(60)}`, 'xxxx-xx-xx'],
  ])('is refused where there is none: %s', (line, said) => {
    expect(() => times(line)).toThrow(new Error(`“${said}” is no time there is.`));
  });
});
