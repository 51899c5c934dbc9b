import { describe, expect, it } from 'vitest';
import { daysOffOf } from '@/core/schedule/days-off';
import { Pattern, patternProblem } from '@/core/expect/pattern';

const calendar = (...events: string[][]) =>
  [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    ...events.flatMap((lines, i) => ['BEGIN:VEVENT', `UID:${i}`, ...lines, 'END:VEVENT']),
    'END:VCALENDAR',
  ].join('\r\n');

describe('patterns', () => {
  it('are refused where a few letters unfold to a large machine', () => {
    expect(patternProblem('(?i)(.{1,1000}){1,1}z')).toContain(
      'it unfolds to 2004 steps, and 500 are allowed',
    );
    expect(patternProblem('(a{1,50}){1,20}')).toContain('lower its repetitions');
    for (const usual of [
      'booking (open|closed)',
      'value="([^"]+)"',
      '\\d{4}-\\d\\d-\\d\\d',
      '[\\w.]{1,60}@tern\\.test',
    ]) {
      expect(patternProblem(usual)).toBeNull();
    }
  });

  it('search as much of a text as takes about a second, and say how much that is', () => {
    const large = Pattern.of('(?i)(.{1,100})z');
    expect(large.reach).toBeGreaterThan(50_000);
    expect(large.isIn(`${'a'.repeat(large.reach - 1)}z`)).toBe(true);
    expect(large.isIn(`${'a'.repeat(large.reach)}z`)).toBe(false);
    expect(Pattern.of('tern').reach).toBeGreaterThan(1_000_000);
  });
});

describe('days off', () => {
  it('are laid out only for the years asked for, however long an event lasts', () => {
    const ages = calendar(['DTSTART;VALUE=DATE:00010101', 'DTEND;VALUE=DATE:99991231']);
    const days = daysOffOf(ages, '2026-11-25');
    expect([days.length, days[0]]).toEqual([1000, '2026-11-25']);
    const over = calendar(['DTSTART;VALUE=DATE:20261120', 'DTEND;VALUE=DATE:20261127']);
    expect(daysOffOf(over, '2026-11-25')).toEqual(['2026-11-25', '2026-11-26']);
  });

  it('stop after so many rounds over all events of a file', () => {
    const daily = ['DTSTART;VALUE=DATE:18000101', 'RRULE:FREQ=DAILY'];
    const days = daysOffOf(
      calendar(...Array.from({ length: 50 }, () => daily), ['DTSTART;VALUE=DATE:20270101']),
      '2026-11-25',
    );
    expect(days).toEqual(['2027-01-01']);
  });
});
