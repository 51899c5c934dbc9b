import type { Schedule } from './schedule';
import type { Rules } from './status';

/** How a probe watch is set. Times are whole seconds, but `slowAfter`, which is milliseconds. */
export interface ProbeConfig {
  type: 'probe';
  settings: object;
  every: number;
  /** Looks at these times in place of every so many seconds. */
  when?: { expression: string; zone: string } | null;
  timeout: number;
  secondLooks: number;
  secondLookGap: number;
  slowAfter: number | null;
  slowLooks: number;
  /** Ids of the watches it rests on. */
  restsOn?: number[];
}

export type ScheduleConfig =
  { type: 'period'; every: number } | { type: 'cron'; expression: string; zone: string };

/** How a check-in watch is set. Times are whole seconds. */
export interface CheckinConfig {
  type: 'checkin';
  schedule: ScheduleConfig;
  leeway: number;
  longestRun: number | null;
  /** Ids of the watches it rests on. */
  restsOn?: number[];
}

export type WatchConfig = ProbeConfig | CheckinConfig;

export function scheduleOf(config: ScheduleConfig): Schedule {
  return config.type === 'period'
    ? { type: 'period', everyMs: config.every * 1000 }
    : { type: 'cron', expression: config.expression, zone: config.zone };
}

/** The settings of a watch as `decide` takes them. `zone` is used to say times where a schedule has none. */
export function rulesOf(config: WatchConfig, zone: string): Rules {
  if (config.type === 'checkin') {
    return {
      type: 'checkin',
      schedule: scheduleOf(config.schedule),
      leewayMs: config.leeway * 1000,
      longestRunMs: config.longestRun === null ? null : config.longestRun * 1000,
      zone: config.schedule.type === 'cron' ? config.schedule.zone : zone,
    };
  }
  return {
    type: 'probe',
    everyMs: config.every * 1000,
    ...(config.when && { cron: { type: 'cron', ...config.when } }),
    timeoutMs: config.timeout * 1000,
    secondLooks: config.secondLooks,
    secondLookGapMs: config.secondLookGap * 1000,
    slowAfterMs: config.slowAfter,
    slowLooks: config.slowLooks,
  };
}
