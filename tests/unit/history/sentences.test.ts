import { describe, expect, it } from 'vitest';
import { deskSentences } from '@/core/history/count-text';
import { emptyHistogram, addToHistogram } from '@/core/history/histogram';
import { chartPoints } from '@/core/history/response-chart';
import { figureSpans, observedText, sinceText, wholeLabel } from '@/core/history/since-text';
import { stateWords, unseenText, watchSentence } from '@/core/history/state-text';
import { DAY_MS, HOUR_MS, MINUTE_MS } from '@/core/time/units';

const T0 = Date.parse('2026-11-26T18:31:00Z');

describe('how long something has been so', () => {
  it.each([
    [T0, T0, 'UTC', '18:31 today'],
    [T0 - 18.6 * HOUR_MS, T0, 'UTC', '23:55 yesterday'],
    [T0 - 2 * DAY_MS, T0, 'UTC', '24 Nov'],
    [Date.parse('2025-11-05T03:04:00Z'), T0, 'UTC', '5 Nov 2025'],
    [Date.parse('2026-01-05T03:04:00Z'), T0, 'UTC', '5 Jan'],
    [
      Date.parse('2026-11-26T23:30:00Z'),
      Date.parse('2026-11-26T23:40:00Z'),
      'Europe/Helsinki',
      '01:30 today',
    ],
  ])('%i is told as %s', (at, now, zone, text) => expect(sinceText(at, now, zone)).toBe(text));

  it('gives no figure for time nobody watched', () => {
    const spans = (age: number) => figureSpans(T0 - age, T0, 'UTC', [1, 7, 30]);
    expect(spans(DAY_MS - 1).map((one) => one.label)).toEqual(['since 18:31 yesterday, 23 h 59 min']);
    expect(spans(DAY_MS)[0]).toEqual({ from: T0 - DAY_MS, to: T0, label: '24 hours' });
    expect(spans(DAY_MS)).toHaveLength(2);
    expect(spans(8 * DAY_MS)).toEqual([
      { from: T0 - DAY_MS, to: T0, label: '24 hours' },
      { from: T0 - 7 * DAY_MS, to: T0, label: '7 days' },
      { from: T0 - 8 * DAY_MS, to: T0, label: 'since 18 Nov, 8 d' },
    ]);
    expect(spans(30 * DAY_MS).map((one) => one.label)).toEqual(['24 hours', '7 days', '30 days']);
    expect(wholeLabel(T0 + 1, T0, 'UTC')).toBe('since 18:31 today, 0 s');
  });

  it('says what a figure stands on where that is much less than its span', () => {
    expect(observedText(0, HOUR_MS)).toBe('');
    expect(observedText(1, HOUR_MS)).not.toBe('');
    expect(observedText(54 * MINUTE_MS - 1, HOUR_MS)).toBe('53 min 59 s observed');
    expect(observedText(54 * MINUTE_MS, HOUR_MS)).toBe('');
  });

  it('says how much of it nobody saw, from a minute on', () => {
    const unseen = (ms: number) =>
      unseenText([{ from: T0 - 5, to: T0 + ms, kind: 'unobserved' }], T0, T0 + HOUR_MS);
    expect(unseen(MINUTE_MS - 1)).toBe('');
    expect(unseen(MINUTE_MS)).toBe('Not observed for 1 min of that time.');
    expect(unseenText([{ from: T0, to: T0 + HOUR_MS, kind: 'up' }], T0, T0 + HOUR_MS)).toBe('');
  });
});

describe('the sentence of a watch', () => {
  it.each([
    ['up', false, false, 'Quay is up, and has been for ', true],
    ['slow', false, false, 'Quay is slow, and has been for ', true],
    ['slow', true, false, 'Quay wants a hand, and has for ', true],
    ['up', true, false, 'Quay is up, and has been for ', true],
    ['waiting', false, false, 'Quay is waiting for its first news.', false],
    ['waiting', false, true, 'Nothing is known of Quay, and has not been for ', true],
    ['down', false, true, 'Quay is down, and has been for ', true],
    ['maintenance', false, false, 'Quay is in maintenance, and has been for ', true],
  ] as const)('%s', (state, warned, heardOf, words, hasLength) => {
    expect(watchSentence('Quay', state, warned, heardOf)).toEqual({ words, hasLength });
  });

  it('calls slow what is slow, and all else over a limit by what it wants', () => {
    expect(stateWords('slow')).toBe('slow');
    expect(stateWords('slow', true)).toBe('wants a hand');
    expect(stateWords('down', true)).toBe('down');
    expect(watchSentence('Quay', 'waiting').hasLength).toBe(false);
  });
});

describe('the sentences of the desk', () => {
  it.each([
    [0, {}, 'Nothing is being watched yet.', ''],
    [0, { up: 1 }, 'Your one watch is calm.', ''],
    [0, { up: 3 }, 'All three watches are calm.', ''],
    [0, { paused: 2 }, 'Both watches are calm.', 'Two are paused.'],
    [0, { up: 2, paused: 1 }, 'All three watches are calm.', 'Two are up and one is paused.'],
    [0, { up: 2, paused: 0 }, 'Both watches are calm.', ''],
    [1, {}, 'Your one watch needs you.', ''],
    [2, {}, 'Both watches need you.', ''],
    [1, { up: 1 }, 'One of two watches needs you.', 'The other one is up.'],
    [1, { up: 4, slow: 0 }, 'One of five watches needs you.', 'The other four are up.'],
    [2, { waiting: 3 }, 'Two of five watches need you.', 'The other three are waiting for news.'],
    [1, { up: 1, down: 1 }, 'One of three watches needs you.', 'Of the others, one is up and one is down.'],
  ])('%i need a hand beside %j', (needing, others, lead, below) => {
    expect(deskSentences(needing, others)).toEqual({ lead, below });
  });
});

describe('response times in columns', () => {
  const rolled = (...times: number[]) => {
    const histogram = emptyHistogram();
    for (const ms of times) addToHistogram(histogram, ms);
    return histogram;
  };

  it('stand in the middle of their column, oldest first, rolled up and single ones together', () => {
    const range = { from: T0, to: T0 + 4 * HOUR_MS };
    const points = chartPoints(
      range,
      HOUR_MS,
      [
        { hour: T0 + 2 * HOUR_MS, times: rolled(100) },
        { hour: T0, times: rolled(10, 10) },
        { hour: T0 + HOUR_MS, times: emptyHistogram() },
      ],
      [
        { at: T0 + 2 * HOUR_MS + 1, ms: 100 },
        { at: T0 + 3 * HOUR_MS - 1, ms: 100 },
        { at: T0 + 3 * HOUR_MS, ms: 7 },
      ],
    );
    expect(points.map(({ at, count }) => [(at - T0) / HOUR_MS, count])).toEqual([
      [0.5, 2],
      [2.5, 3],
      [3.5, 1],
    ]);
    expect(points[0]!.median).toBeCloseTo(10, 0);
    expect(points[1]!.p95).toBeGreaterThan(90);
    expect(chartPoints(range, HOUR_MS, [], [])).toEqual([]);
  });
});
