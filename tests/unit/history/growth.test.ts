import { describe, expect, it } from 'vitest';
import { growthOf, growthText } from '@/core/history/growth';

const DAY = 86_400_000;
const NOW = Date.parse('2026-11-25T12:00:00Z');
const TODAY = Date.parse('2026-11-25T00:00:00Z');

/** Sizes of the last `days` days that grow by so much a day, and wobble. */
const sizes = (days: number, perDay: number, wobble = 0) =>
  Array.from({ length: days }, (_, i) => ({
    day: TODAY - (days - 1 - i) * DAY,
    bytes: 50_000_000 + i * perDay + (i % 2 === 0 ? wobble : -wobble),
  }));

describe('how fast the database grows', () => {
  it('is not told before seven days are known', () => {
    expect(growthOf([], 1e9, NOW)).toBeNull();
    expect(growthOf(sizes(7, 1000), 1e9, NOW)).toBeNull();
    expect(growthOf(sizes(8, 1000), 1e9, NOW)).toMatchObject({ since: TODAY - 7 * DAY });
    expect(growthText(null, NOW)).toBe('How fast it grows is told once it is known for seven days.');
  });

  it('is the line nearest to the sizes, with the day on which the disk is full', () => {
    const growth = growthOf(sizes(31, 100_000, 20_000), 36_525_000, NOW)!;
    expect(growth.bytesPerYear / 36_525_000).toBeCloseTo(1, 1);
    expect((growth.fullAt! - NOW) / (365.25 * DAY)).toBeCloseTo(1, 1);
    expect(growthText(growthOf(sizes(31, 100_000), 36_525_000, NOW), NOW)).toBe(
      'Since 26 October it grows by 36.5 MB a year. At that pace the disk is full in November 2027.',
    );
  });

  it('takes the last sixty days, however many are known', () => {
    const past = sizes(90, 0).slice(0, 30);
    const recent = sizes(90, 0)
      .slice(30)
      .map((size, i) => ({ ...size, bytes: size.bytes + i * 1000 }));
    expect(growthOf([...past, ...recent], 1e9, NOW)).toMatchObject({
      since: TODAY - 59 * DAY,
      bytesPerYear: 365_250,
    });
  });

  it('says nothing of a disk that fills in more than ten years, or not at all', () => {
    const slow = growthOf(sizes(30, 1000), 1e12, NOW);
    expect(slow!.fullAt).toBeNull();
    expect(growthText(slow, NOW)).toMatch(/the disk is not full within ten years\.$/);
    const later = growthOf(sizes(30, 1000), 1000 * 366 * 20, NOW);
    expect(later!.fullAt).toBeGreaterThan(NOW);
    expect(growthText(later, NOW)).toMatch(/not full within ten years\.$/);
    const less = growthOf(sizes(30, -1000), 1e9, NOW);
    expect(less!.fullAt).toBeNull();
    expect(growthText(less, NOW)).toBe('It has not grown since 27 October.');
  });
});
