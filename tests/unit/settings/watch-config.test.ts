import { describe, expect, it } from 'vitest';
import { rulesOf, scheduleOf, type CheckinConfig, type ProbeConfig } from '@/core/settings/watch-config';

const probe: ProbeConfig = {
  type: 'probe',
  settings: {},
  every: 60,
  timeout: 10,
  secondLooks: 2,
  secondLookGap: 15,
  slowAfter: 900,
  slowLooks: 3,
};
const checkin: CheckinConfig = {
  type: 'checkin',
  schedule: { type: 'period', every: 3600 },
  leeway: 300,
  longestRun: 120,
  shortestGap: 30,
};

describe('the settings of a watch as its life takes them', () => {
  it('are milliseconds for a probe', () => {
    expect(rulesOf(probe, 'UTC')).toEqual({
      type: 'probe',
      everyMs: 60_000,
      timeoutMs: 10_000,
      secondLooks: 2,
      secondLookGapMs: 15_000,
      slowAfterMs: 900,
      slowLooks: 3,
    });
    const when = { expression: '0 6 * * *', zone: 'Europe/Lisbon' };
    expect(rulesOf({ ...probe, when }, 'UTC')).toMatchObject({ cron: { type: 'cron', ...when } });
    expect(rulesOf({ ...probe, when: null }, 'UTC')).not.toHaveProperty('cron');
  });

  it('are milliseconds for a check-in, with no limit where there is none', () => {
    expect(rulesOf(checkin, 'Europe/Lisbon')).toEqual({
      type: 'checkin',
      schedule: { type: 'period', everyMs: 3_600_000 },
      leewayMs: 300_000,
      longestRunMs: 120_000,
      shortestGapMs: 30_000,
      zone: 'Europe/Lisbon',
    });
    expect(rulesOf({ ...checkin, longestRun: null, shortestGap: null }, 'UTC')).toMatchObject({
      longestRunMs: null,
      shortestGapMs: null,
    });
    expect(rulesOf({ ...checkin, shortestGap: undefined }, 'UTC')).toMatchObject({ shortestGapMs: null });
  });

  it('say times in the zone of the schedule, where it has one', () => {
    const schedule = { type: 'cron', expression: '0 6 * * *', zone: 'Atlantic/Azores' } as const;
    expect(scheduleOf(schedule)).toBe(schedule);
    expect(rulesOf({ ...checkin, schedule }, 'UTC')).toMatchObject({ schedule, zone: 'Atlantic/Azores' });
  });
});
