import type { WatchConfig } from '../core/watch-config';
import { settingValues, type SettingValues } from './setting-value';

/** What the watch form holds: texts as typed, so that nothing is lost when something is refused. */
export interface WatchFormValues {
  kind: string;
  name: string;
  section: string;
  settings: SettingValues;
  restsOn: number[];
  every: number;
  /** A probe looks at the times of the cron expression. */
  byCron: boolean;
  timeout: number;
  secondLooks: string;
  secondLookGap: number;
  slowAfter: string;
  scheduleType: 'period' | 'cron';
  period: number;
  expression: string;
  zone: string;
  leeway: number;
  longestRun: string;
}

export type SetValue = <K extends keyof WatchFormValues>(key: K, value: WatchFormValues[K]) => void;

export function emptyWatchForm(zone: string): WatchFormValues {
  return {
    kind: 'web',
    name: '',
    section: '',
    settings: {},
    restsOn: [],
    every: 60,
    byCron: false,
    timeout: 10,
    secondLooks: '2',
    secondLookGap: 10,
    slowAfter: '',
    scheduleType: 'cron',
    period: 86_400,
    expression: '30 2 * * *',
    zone,
    leeway: 1800,
    longestRun: '',
  };
}

/** The form for a watch that exists. */
export function watchFormOf(
  watch: { kind: string; name: string; section: string | null; config: WatchConfig },
  zone: string,
): WatchFormValues {
  const values = {
    ...emptyWatchForm(zone),
    kind: watch.kind,
    name: watch.name,
    section: watch.section ?? '',
    restsOn: watch.config.restsOn ?? [],
  };
  const { config } = watch;
  if (config.type === 'checkin') {
    const { schedule } = config;
    return {
      ...values,
      scheduleType: schedule.type,
      ...(schedule.type === 'period'
        ? { period: schedule.every }
        : { expression: schedule.expression, zone: schedule.zone }),
      leeway: config.leeway,
      longestRun: config.longestRun === null ? '' : String(config.longestRun / 60),
    };
  }
  return {
    ...values,
    settings: settingValues(config.settings),
    every: config.every,
    ...(config.when && { byCron: true, ...config.when }),
    timeout: config.timeout,
    secondLooks: String(config.secondLooks),
    secondLookGap: config.secondLookGap,
    slowAfter: config.slowAfter === null ? '' : String(config.slowAfter),
  };
}

/** A number as typed: the text itself where it is none, so that the answer can name it. */
function typedNumber(text: string): number | string | null {
  if (text.trim() === '') return null;
  const value = Number(text);
  return Number.isNaN(value) ? text : value;
}

/** The body the API takes. */
export function watchBodyOf(values: WatchFormValues): Record<string, unknown> {
  const { kind, name, restsOn } = values;
  const common = { kind, name, section: values.section || null, restsOn };
  if (values.kind === 'checkin') {
    const minutes = typedNumber(values.longestRun);
    return {
      ...common,
      schedule:
        values.scheduleType === 'period'
          ? { type: 'period', every: values.period }
          : { type: 'cron', expression: values.expression, zone: values.zone },
      leeway: values.leeway,
      longestRun: typeof minutes === 'number' ? minutes * 60 : minutes,
    };
  }
  return {
    ...common,
    settings: values.settings,
    every: values.every,
    when: values.byCron ? { expression: values.expression, zone: values.zone } : null,
    timeout: values.timeout,
    secondLooks: typedNumber(values.secondLooks),
    secondLookGap: values.secondLookGap,
    slowAfter: typedNumber(values.slowAfter),
  };
}

/** The settings as the core takes them, or null while a number is missing. */
export function configOf(values: WatchFormValues): WatchConfig | null {
  if (values.kind === 'checkin') {
    const longest = typedNumber(values.longestRun);
    if (Number.isNaN(values.leeway) || Number.isNaN(values.period) || typeof longest === 'string')
      return null;
    return {
      type: 'checkin',
      schedule:
        values.scheduleType === 'period'
          ? { type: 'period', every: values.period }
          : { type: 'cron', expression: values.expression, zone: values.zone },
      leeway: values.leeway,
      longestRun: longest === null ? null : longest * 60,
    };
  }
  const secondLooks = Number(values.secondLooks);
  const numbers = [values.every, values.timeout, secondLooks, values.secondLookGap];
  if (numbers.some((n) => !Number.isFinite(n) || n < 0)) return null;
  return {
    type: 'probe',
    settings: values.settings,
    every: values.every,
    when: values.byCron ? { expression: values.expression, zone: values.zone } : null,
    timeout: values.timeout,
    secondLooks,
    secondLookGap: values.secondLookGap,
    slowAfter: null,
    slowLooks: 3,
  };
}
