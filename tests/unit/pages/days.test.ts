import { describe, expect, it } from 'vitest';
import { dayBeside, daySpan, daysOf, troubledDays } from '@/core/pages/days';
import type { PublicKind } from '@/core/pages/public-line';
import { HOUR_MS } from '@/core/time/units';

const ms = (text: string) => Date.parse(text);

describe('days of a page', () => {
  it('follow each other over months and years', () => {
    expect([dayBeside('2026-12-31', 1), dayBeside('2026-03-01', -1)]).toEqual(['2027-01-01', '2026-02-28']);
  });

  it('last as long as the clocks of the zone say', () => {
    const length = (day: string) => {
      const { from, to } = daySpan(day, 'Europe/Lisbon')!;
      return (to - from) / HOUR_MS;
    };
    expect([length('2026-11-25'), length('2026-03-29'), length('2026-10-25')]).toEqual([24, 23, 25]);
    expect(daySpan('2026-02-30', 'UTC')).toBeNull();
  });

  it('are those a span touches', () => {
    const span = { from: ms('2026-11-24T23:30:00Z'), to: ms('2026-11-26T00:00:00Z') };
    expect(daysOf(span, 'UTC')).toEqual(['2026-11-24', '2026-11-25']);
    expect(daysOf(span, 'Pacific/Auckland')).toEqual(['2026-11-25', '2026-11-26']);
  });

  it('are troubled by the worst that stands up, each for itself', () => {
    const at = (from: string, to: string, kind: PublicKind) => ({ from: ms(from), to: ms(to), kind });
    const line = [
      at('2026-11-20T00:00Z', '2026-11-20T10:00Z', 'unknown'),
      at('2026-11-20T10:00Z', '2026-11-20T11:00Z', 'slow'),
      at('2026-11-20T11:00Z', '2026-11-20T12:00Z', 'out'),
      at('2026-11-21T00:00Z', '2026-11-21T01:00Z', 'maintenance'),
      at('2026-11-22T23:00Z', '2026-11-23T01:00Z', 'partly'),
    ];
    expect(troubledDays(line, 'UTC')).toEqual([
      { day: '2026-11-20', worst: 'out', from: ms('2026-11-20T10:00Z'), to: ms('2026-11-20T12:00Z') },
      { day: '2026-11-22', worst: 'partly', from: ms('2026-11-22T23:00Z'), to: ms('2026-11-23T00:00Z') },
      { day: '2026-11-23', worst: 'partly', from: ms('2026-11-23T00:00Z'), to: ms('2026-11-23T01:00Z') },
    ]);
  });
});
