import { describe, expect, it } from 'vitest';
import { nearestStop, stopByKey } from '@/ui/charts/read-out';

const stops = [
  { from: 0, to: 0.2 },
  { from: 0.2, to: 0.21 },
  { from: 0.5, to: 0.5 },
];

describe('a drawing that is read out', () => {
  it('says what is under the pointer, or nearest to it', () => {
    expect(nearestStop(stops, 0.1)).toBe(0);
    expect(nearestStop(stops, 0.205)).toBe(1);
    expect(nearestStop(stops, 0.3)).toBe(1);
    expect(nearestStop(stops, 0.4)).toBe(2);
    expect(nearestStop(stops, 1)).toBe(2);
    expect(nearestStop(stops, -1)).toBe(0);
  });

  it('begins at the newest and is walked to both ends, and no further', () => {
    expect(stopByKey('ArrowLeft', null, 3)).toBe(2);
    expect(stopByKey('ArrowLeft', 2, 3)).toBe(1);
    expect(stopByKey('ArrowLeft', 0, 3)).toBe(0);
    expect(stopByKey('ArrowRight', 1, 3)).toBe(2);
    expect(stopByKey('ArrowRight', 2, 3)).toBe(2);
    expect(stopByKey('Home', 2, 3)).toBe(0);
    expect(stopByKey('End', null, 3)).toBe(2);
    expect(stopByKey('Tab', 1, 3)).toBeNull();
  });
});
