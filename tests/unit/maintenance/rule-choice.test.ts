import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readRule } from '@/core/maintenance/rule';
import {
  ONCE,
  REPEATS,
  RULE_DAYS,
  choiceOf,
  minutesBetween,
  repeatWords,
  ruleOf,
  wallPlus,
} from '@/core/maintenance/rule-choice';

const SUNDAY = '2026-12-06T02:00';

describe('how something repeats', () => {
  it('is said by when it begins first', () => {
    const texts = (wall: string) => repeatWords(wall).map(({ text }) => text);
    expect(texts(SUNDAY)).toEqual([
      ...['Once', 'Every day', 'Every week', 'Every month on day 6', 'Every month on the first Sunday'],
      ...['Every year', 'By a rule (RFC 5545)'],
    ]);
    expect(texts('2026-12-28T02:00')[4]).toBe('Every month on the fourth Monday');
    expect(texts('').slice(3, 5)).toEqual(['Every month on that day', 'Every month on that weekday']);
    // The fifth is not in each month; the last is.
    expect(texts('2027-01-31T02:00')).toContain('Every month on the last Sunday');
    expect(repeatWords('').map(({ value }) => value)).toEqual([...REPEATS]);
  });

  it('becomes a rule', () => {
    const rule = (change: object, wall = SUNDAY) => ruleOf({ ...ONCE, ...change }, wall);
    expect(rule({})).toBe(null);
    expect(rule({ repeats: 'daily', every: 2 })).toBe('FREQ=DAILY;INTERVAL=2');
    expect(rule({ repeats: 'weekly', days: ['SU', 'MO'] })).toBe('FREQ=WEEKLY;BYDAY=MO,SU');
    expect(rule({ repeats: 'monthly-weekday' })).toBe('FREQ=MONTHLY;BYDAY=1SU');
    expect(rule({ repeats: 'monthly-weekday' }, '2027-01-31T02:00')).toBe('FREQ=MONTHLY;BYDAY=-1SU');
    expect(rule({ repeats: 'yearly', ends: 'on', lastDay: '2030-12-31' })).toBe('FREQ=YEARLY;UNTIL=20301231');
    expect(rule({ repeats: 'monthly-day', ends: 'after', times: 4 })).toBe('FREQ=MONTHLY;COUNT=4');
    // What is chosen for another kind, and left there, is not said.
    expect(rule({ repeats: 'daily', days: ['MO'], lastDay: '2030-12-31' })).toBe('FREQ=DAILY');
    expect(rule({ repeats: 'daily', ends: 'on' })).toBe('FREQ=DAILY');
    expect(rule({ repeats: 'own', rule: 'FREQ=DAILY' })).toBe('FREQ=DAILY');
  });

  it('is found again from the rule it became, which is one that is taken', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('daily', 'weekly', 'monthly-day', 'monthly-weekday', 'yearly'),
        fc.subarray([...RULE_DAYS]),
        fc.integer({ min: 1, max: 12 }),
        fc.constantFrom('never', 'on', 'after'),
        (repeats, days, every, ends) => {
          const choice = { ...ONCE, repeats, every, ends, days: repeats === 'weekly' ? days : [] } as const;
          const whole = {
            ...choice,
            ...(ends === 'on' && { lastDay: '2030-12-31' }),
            ...(ends === 'after' && { times: 7 }),
          };
          const rule = readRule(ruleOf(whole, SUNDAY)!);
          expect(choiceOf(rule, SUNDAY)).toEqual(whole);
        },
      ),
    );
  });

  it('is a rule of one’s own where no choice makes it', () => {
    for (const rule of ['FREQ=MONTHLY;BYDAY=2TU', 'FREQ=DAILY;UNTIL=20271231T235959Z']) {
      expect(choiceOf(rule, SUNDAY)).toEqual({ ...ONCE, repeats: 'own', rule });
    }
    expect(choiceOf('INTERVAL=2;FREQ=DAILY', SUNDAY)).toEqual({ ...ONCE, repeats: 'daily', every: 2 });
  });

  it('lasts from one reading of the clock to the next', () => {
    expect(minutesBetween(SUNDAY, '2026-12-06T03:30')).toBe(90);
    expect(minutesBetween(SUNDAY, SUNDAY)).toBe(null);
    expect(minutesBetween(SUNDAY, 'soon')).toBe(null);
    expect(wallPlus('2026-12-31T23:30', 60)).toBe('2027-01-01T00:30');
    expect(wallPlus('', 60)).toBe('');
  });
});
