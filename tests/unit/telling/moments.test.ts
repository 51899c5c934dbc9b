import { describe, expect, it } from 'vitest';
import { momentAt } from '@/core/telling/ahead/moments';

const at = (text: string) => Date.parse(text);
const said = (ms: number) => new Date(ms).toISOString().slice(0, 16);

describe('a moment at which others may hear', () => {
  const THURSDAY = at('2026-11-26T10:00:00Z');

  it('is now', () => {
    expect(momentAt('now', THURSDAY, 'UTC')).toBe(THURSDAY);
  });

  it('is the next night, by the clock of the zone', () => {
    expect(said(momentAt('night', THURSDAY, 'UTC'))).toBe('2026-11-27T03:00');
    expect(said(momentAt('night', at('2026-11-26T02:59:00Z'), 'UTC'))).toBe('2026-11-26T03:00');
    expect(said(momentAt('night', at('2026-11-26T03:00:00Z'), 'UTC'))).toBe('2026-11-27T03:00');
    expect(said(momentAt('night', THURSDAY, 'Atlantic/Azores'))).toBe('2026-11-27T04:00');
  });

  it('is the next Saturday at noon', () => {
    expect(said(momentAt('weekend', THURSDAY, 'UTC'))).toBe('2026-11-28T12:00');
    expect(said(momentAt('weekend', at('2026-11-28T12:00:00Z'), 'UTC'))).toBe('2026-12-05T12:00');
    expect(said(momentAt('weekend', at('2026-11-28T11:00:00Z'), 'Europe/Lisbon'))).toBe('2026-11-28T12:00');
  });

  it('is there also where daylight saving skips the hour or shows it twice', () => {
    // Clocks of Helsinki go from 03:00 to 04:00 on 29 March 2026, and show 03:00 twice on 25 October.
    expect(said(momentAt('night', at('2026-03-28T12:00:00Z'), 'Europe/Helsinki'))).toBe('2026-03-30T00:00');
    expect(said(momentAt('night', at('2026-10-24T12:00:00Z'), 'Europe/Helsinki'))).toBe('2026-10-25T00:00');
  });
});
