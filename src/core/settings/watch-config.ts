import type { MailRules } from '@/core/reports/mail-words';
import type { Schedule, TimesSchedule } from '@/core/schedule/schedule';
import type { Rules } from '@/core/lifecycle/status';
import type { Tells } from './tells';
import type { Urgency } from './urgency';

/** What every watch may say, whatever it is. */
interface AnyConfig {
  /** Ids of the watches it rests on. */
  restsOn?: number[];
  /** How much its trouble matters. */
  urgency?: Urgency;
  /** Where it is written what to do, and the same in a few words; empty for nothing. */
  runbook?: string;
  runbookNote?: string;
  /** Who hears of it, and the ids of channels that hear by itself. */
  tells?: Tells;
  tellsTo?: number[];
}

/** How a probe watch is set. Times are whole seconds, but `slowAfter`, which is milliseconds. */
export interface ProbeConfig extends AnyConfig {
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
}

export type ScheduleConfig = { type: 'period'; every: number } | TimesSchedule;

/** How a check-in watch is set. Times are whole seconds. */
export interface CheckinConfig extends AnyConfig, Partial<MailRules> {
  type: 'checkin';
  schedule: ScheduleConfig;
  leeway: number;
  longestRun: number | null;
  /** No less than this should pass between two runs; null for no limit. */
  shortestGap?: number | null;
  /** Which requests to its address count: any, or only POST, which no preview of a link sends. */
  methods?: 'any' | 'post';
}

export type WatchConfig = ProbeConfig | CheckinConfig;

export function scheduleOf(config: ScheduleConfig): Schedule {
  return config.type === 'period' ? { type: 'period', everyMs: config.every * 1000 } : config;
}

/** The settings of a watch as `decide` takes them. `zone` is used to say times where a schedule has none. */
export function rulesOf(config: WatchConfig, zone: string): Rules {
  if (config.type === 'checkin') {
    return {
      type: 'checkin',
      schedule: scheduleOf(config.schedule),
      leewayMs: config.leeway * 1000,
      longestRunMs: config.longestRun === null ? null : config.longestRun * 1000,
      shortestGapMs: config.shortestGap ? config.shortestGap * 1000 : null,
      zone: config.schedule.type === 'period' ? zone : config.schedule.zone,
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
