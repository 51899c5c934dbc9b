import { describe, expect, it } from 'vitest';
import { formatClock } from '@/core/time/clock-text';
import { formatBytes, formatDuration, formatExactDuration, formatMs } from '@/core/time/duration';

const [S, MIN, H, D] = [1000, 60_000, 3_600_000, 86_400_000];

describe('lengths of time', () => {
  it.each([
    [-5, '0 s'],
    [0, '0 s'],
    [0.4, '0 s'],
    [1, 'under 1 s'],
    [999.9, 'under 1 s'],
    [S, '1 s'],
    [59.999 * S, '59 s'],
    [MIN, '1 min'],
    [MIN + 999, '1 min'],
    [MIN + S, '1 min 1 s'],
    [H - 1, '59 min 59 s'],
    [H, '1 h'],
    [H + 59 * S, '1 h'],
    [H + MIN, '1 h 1 min'],
    [D - 1, '23 h 59 min'],
    [D, '1 d'],
    [D + 59 * MIN, '1 d'],
    [D + H, '1 d 1 h'],
    [400 * D, '400 d'],
  ])('%d ms is never said longer than it was: %s', (ms, text) => expect(formatDuration(ms)).toBe(text));

  it.each([
    [-1, '0 s'],
    [499, '0 s'],
    [500, '1 s'],
    [D + H + MIN + S, '1 d 1 h 1 min 1 s'],
    [D + S, '1 d 1 s'],
    [59_500, '1 min'],
    [2 * H, '2 h'],
  ])('%d ms to the second: %s', (ms, text) => expect(formatExactDuration(ms)).toBe(text));

  it.each([
    [0, '0 ms'],
    [0.05, 'under 0.1 ms'],
    [0.1, '0.1 ms'],
    [4, '4 ms'],
    [4.04, '4.0 ms'],
    [9.99, '10.0 ms'],
    [10.4, '10 ms'],
    [999.4, '999 ms'],
    [1000, '1.00 s'],
    [1239, '1.24 s'],
    [9999, '10.00 s'],
    [10_000, '10 s'],
    [231_000, '3 min 51 s'],
  ])('%d ms as a reader wants them: %s', (ms, text) => expect(formatMs(ms)).toBe(text));

  it.each([
    [0, '0 B'],
    [999, '999 B'],
    [1000, '1 kB'],
    [1499, '1 kB'],
    [999_499, '999 kB'],
    [1_000_000, '1.0 MB'],
    [1_250_000, '1.3 MB'],
  ])('%i bytes: %s', (bytes, text) => expect(formatBytes(bytes)).toBe(text));
});

describe('moments', () => {
  const at = Date.parse('2026-11-24T02:30:05Z');
  it.each([
    ['UTC', false, 'Tue 24 Nov, 02:30'],
    ['', false, 'Tue 24 Nov, 02:30'],
    ['Europe/Helsinki', false, 'Tue 24 Nov, 04:30'],
    ['America/Lima', true, 'Mon 23 Nov, 21:30:05'],
  ])('in %s', (zone, exact, text) => expect(formatClock(at, zone, exact)).toBe(text));
});
