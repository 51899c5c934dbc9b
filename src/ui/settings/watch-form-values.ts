import {
  resolve,
  sharedNames,
  wholeConfig,
  type Level,
  type Levels,
  type Resolved,
  type SharedPlace,
  type Values,
} from '@/core/settings/cascade';
import { MAIL_NAMES, USUAL_MAIL_RULES } from '@/core/reports/mail-words';
import { wireName, wireOf } from '@/core/settings/wire-names';
import { TIMING_WORDS } from '@/core/settings/setting-words';
import type { ScheduleConfig, WatchConfig } from '@/core/settings/watch-config';
import { settingValues, type SettingValues } from './setting-value';

/** What the watch form holds: texts as typed, so that nothing is lost when something is refused. */
export interface WatchFormValues {
  kind: string;
  name: string;
  section: string;
  tags: string[];
  /** Names of the shared settings that are set here; the others come from farther away. */
  own: string[];
  settings: SettingValues;
  restsOn: number[];
  every: number;
  /** A probe looks at the times of the cron expression. */
  byCron: boolean;
  timeout: number;
  secondLooks: string;
  secondLookGap: number;
  slowAfter: string;
  slowLooks: string;
  scheduleType: 'period' | 'cron' | 'calendar';
  period: number;
  expression: string;
  zone: string;
  /** Whose cron the expression is written for. */
  dialect: 'usual' | 'debian';
  /** Days on which nothing is due, one a line. */
  daysOff: string;
  leeway: number;
  longestRun: string;
  shortestGap: string;
  methods: string;
  mailFrom: string;
  mailFailed: string;
  mailBegun: string;
  mailDone: string;
  mailWhere: string;
  urgency: string;
  runbook: string;
  runbookNote: string;
  tells: string;
  tellsTo: number[];
}

export type SetValue = <K extends keyof WatchFormValues>(key: K, value: WatchFormValues[K]) => void;

const SETTING = 'settings.';
/** Shared settings that stand in the form as they are kept. */
const AS_THEY_ARE = [
  ...MAIL_NAMES,
  ...(['restsOn', 'urgency', 'runbook', 'runbookNote', 'tells', 'tellsTo'] as const),
];

/** Seconds as minutes in text; empty for none, undefined for what is not there. */
function minutesText(seconds: unknown): string | undefined {
  if (seconds === undefined) return undefined;
  return seconds === null ? '' : String(Number(seconds) / 60);
}

/** Shared values as the form holds them; those it was not given are left out. */
function formValuesOf(values: Readonly<Record<string, unknown>>): Partial<WatchFormValues> {
  const when = values.when as { expression: string; zone: string } | null | undefined;
  const text = (value: unknown) => (value === null ? '' : String(value));
  const plain: [keyof WatchFormValues, unknown][] = [
    ['every', values.every],
    ['timeout', values.timeout],
    ['secondLooks', values.secondLooks === undefined ? undefined : text(values.secondLooks)],
    ['secondLookGap', values.secondLookGap],
    ['slowAfter', values.slowAfter === undefined ? undefined : text(values.slowAfter)],
    ['slowLooks', values.slowLooks === undefined ? undefined : text(values.slowLooks)],
    ['leeway', values.leeway],
    ['longestRun', minutesText(values.longestRun)],
    ['shortestGap', minutesText(values.shortestGap)],
    ['methods', values.methods],
    ...AS_THEY_ARE.map((name): [keyof WatchFormValues, unknown] => [name, values[name]]),
  ];
  return {
    ...Object.fromEntries(plain.filter(([, value]) => value !== undefined)),
    ...(when !== undefined && { byCron: when !== null, ...when }),
  };
}

export function emptyWatchForm(zone: string): WatchFormValues {
  return {
    kind: 'web',
    name: '',
    section: '',
    tags: [],
    own: [],
    settings: {},
    restsOn: [],
    every: 60,
    byCron: false,
    timeout: 10,
    secondLooks: '2',
    secondLookGap: 10,
    slowAfter: '',
    slowLooks: '3',
    scheduleType: 'cron',
    period: 86_400,
    expression: '30 2 * * *',
    zone,
    dialect: 'usual',
    daysOff: '',
    leeway: 300,
    longestRun: '',
    shortestGap: '',
    methods: 'any',
    ...USUAL_MAIL_RULES,
    urgency: 'soon',
    runbook: '',
    runbookNote: '',
    tells: 'by-routes',
    tellsTo: [],
  };
}

interface ExistingWatch {
  kind: string;
  name: string;
  section: string | null;
  tags: readonly { name: string }[];
  config: WatchConfig;
  from: Readonly<Record<string, Level>>;
}

/** The form for a watch that exists. */
export function watchFormOf(watch: ExistingWatch, zone: string): WatchFormValues {
  const { config, from } = watch;
  const values: WatchFormValues = {
    ...emptyWatchForm(zone),
    ...formValuesOf(config as unknown as Record<string, unknown>),
    kind: watch.kind,
    name: watch.name,
    section: watch.section ?? '',
    tags: watch.tags.map((tag) => tag.name),
    own: Object.keys(from).filter((name) => from[name] === 'watch'),
  };
  if (config.type === 'probe') return { ...values, settings: settingValues(config.settings) };
  const { schedule } = config;
  return {
    ...values,
    scheduleType: schedule.type,
    ...(schedule.type === 'period'
      ? { period: schedule.every }
      : {
          expression: schedule.expression,
          zone: schedule.zone,
          dialect: schedule.dialect ?? 'usual',
          daysOff: (schedule.daysOff ?? []).join('\n'),
        }),
  };
}

/** A number as typed: the text itself where it is none, so that the answer can name it. */
function typedNumber(text: string): number | string | null {
  if (text.trim() === '') return null;
  const value = Number(text);
  return Number.isNaN(value) ? text : value;
}

/** The value of a shared setting as the API takes it. */
function sharedValue(name: string, values: WatchFormValues): unknown {
  switch (name) {
    case 'when':
      return values.byCron ? { expression: values.expression, zone: values.zone } : null;
    case 'secondLooks':
    case 'slowAfter':
    case 'slowLooks':
      return typedNumber(values[name]);
    case 'longestRun':
    case 'shortestGap': {
      const minutes = typedNumber(values[name]);
      return typeof minutes === 'number' ? minutes * 60 : minutes;
    }
    default:
      return name.startsWith(SETTING)
        ? values.settings[name.slice(SETTING.length)]
        : values[name as keyof WatchFormValues];
  }
}

/** How often is one choice: who sets times does not say how often, and the other way round. */
export function ownNames(values: WatchFormValues): string[] {
  const pace = values.own.some((name) => name === 'every' || name === 'when');
  const others = values.own.filter((name) => name !== 'every' && name !== 'when');
  return pace ? [...others, values.byCron ? 'when' : 'every'] : others;
}

/** The shared settings among some names as a body takes them: those that are set here, and those given back. */
export function sharedBodyOf(values: WatchFormValues, names: readonly string[]): Record<string, unknown> {
  const own = ownNames(values).filter((name) => names.includes(name));
  const inner = own.filter((name) => name.startsWith(SETTING));
  return {
    ...Object.fromEntries(
      own
        .filter((name) => !name.startsWith(SETTING))
        .map((name) => [wireName(name), sharedValue(name, values)]),
    ),
    ...(inner.length > 0 && {
      settings: Object.fromEntries(
        inner.map((name) => [name.slice(SETTING.length), sharedValue(name, values)]),
      ),
    }),
    inherit: names.filter((name) => !own.includes(name)).map(wireName),
  };
}

/** The body the API takes for a watch. */
export function watchBodyOf(values: WatchFormValues, usual: Levels['usual']): Record<string, unknown> {
  const { kind, name, tags } = values;
  const names = sharedNames(kind, usual);
  const { settings: sharedSettings, ...shared } = sharedBodyOf(values, names);
  const common = { kind, name, section: values.section || null, tags, ...shared };
  if (kind === 'checkin') return { ...common, schedule: wireOf(scheduleOf(values)) };
  const own = Object.entries(values.settings).filter(([one]) => !names.includes(`${SETTING}${one}`));
  return { ...common, settings: { ...Object.fromEntries(own), ...(sharedSettings as object) } };
}

/** When a job is expected, as the form has it. */
export function scheduleOf(values: WatchFormValues): ScheduleConfig {
  const { scheduleType: type, expression, zone } = values;
  if (type === 'period') return { type, every: values.period };
  const daysOff = values.daysOff.split(/[\s,]+/).filter(Boolean);
  const dialect = type === 'cron' && values.dialect === 'debian' ? { dialect: values.dialect } : {};
  return { type, expression, zone, ...dialect, ...(daysOff.length > 0 && { daysOff }) };
}

/** What would hold for the watch if nothing were set on it. */
export function heldFor(values: WatchFormValues, levels: Levels, id?: number): Resolved {
  const { kind, section } = values;
  return resolve({ ...(id !== undefined && { id }), kind, section: section.trim() || null }, levels);
}

/** The form with what holds from farther away in every field that is not set here. */
export function withHeld(values: WatchFormValues, held: Resolved): WatchFormValues {
  const own = values.own.some((name) => name === 'every' || name === 'when')
    ? [...values.own, 'every', 'when']
    : values.own;
  const others = Object.entries(held.values).filter(([name]) => !own.includes(name));
  const settings = others
    .filter(([name]) => name.startsWith(SETTING))
    .map(([name, value]) => [name.slice(SETTING.length), value]);
  return {
    ...values,
    ...formValuesOf(Object.fromEntries(others)),
    settings: {
      ...values.settings,
      ...settingValues(Object.fromEntries(settings) as Record<string, unknown>),
    },
  };
}

/** The settings as the core takes them, or null while a number is missing. */
export function configOf(values: WatchFormValues, held: Resolved): WatchConfig | null {
  const own = Object.fromEntries(ownNames(values).map((name) => [name, sharedValue(name, values)]));
  const numbers = Object.entries(own).filter(([name]) =>
    ['seconds', 'milliseconds', 'count'].includes(TIMING_WORDS[name]?.unit ?? ''),
  );
  const free = ['slowAfter', 'longestRun', 'shortestGap'];
  const wrong = numbers.some(([name, value]) =>
    value === null ? !free.includes(name) : !Number.isFinite(value) || Number(value) < 0,
  );
  if (wrong || (values.kind === 'checkin' && Number.isNaN(values.period))) return null;
  const whole = { ...held.values, ...(Object.hasOwn(own, 'every') && { when: null }), ...own };
  const bare =
    values.kind === 'checkin'
      ? ({ type: 'checkin', schedule: scheduleOf(values) } as const)
      : ({ type: 'probe', settings: values.settings } as const);
  return wholeConfig(bare, { values: whole, from: {} });
}

/** The form for settings that hold for many watches. */
export function sharedFormOf(place: SharedPlace, values: Values, zone: string): WatchFormValues {
  const settings = Object.entries(values).filter(([name]) => name.startsWith(SETTING));
  return {
    ...emptyWatchForm(zone),
    ...formValuesOf(values),
    kind: place.level === 'kind' ? place.kind : '',
    section: place.level === 'section' ? place.section : '',
    own: Object.keys(values),
    settings: settingValues(
      Object.fromEntries(settings.map(([name, value]) => [name.slice(SETTING.length), value])),
    ),
  };
}
