import type { Level } from './cascade';
import { cronInWords } from '@/core/schedule/cron-words';
import { countOf } from '@/core/text/words';
import { TELLS_WORDS } from './tells';
import { URGENCY_WORDS } from './urgency';
import { formatDuration } from '@/core/time/duration';

/** How a shared setting is called and read out. */
export interface SettingWords {
  label: string;
  unit: 'seconds' | 'milliseconds' | 'count' | 'times' | 'watches' | 'channels' | 'text';
  /** What an empty value means. */
  none: string;
  /** What its values are called, where they may only be some. */
  texts?: Readonly<Record<string, string>>;
}

/** The settings every probe or every check-in has; those of a kind's own form describe themselves. */
export const TIMING_WORDS: Readonly<Record<string, SettingWords>> = {
  every: { label: 'Looks every', unit: 'seconds', none: '' },
  when: { label: 'Set times', unit: 'times', none: 'no set times' },
  timeout: { label: 'Waits at most', unit: 'seconds', none: '' },
  secondLooks: { label: 'Second looks', unit: 'count', none: '' },
  secondLookGap: { label: 'Second looks are apart', unit: 'seconds', none: '' },
  slowAfter: { label: 'Slow over', unit: 'milliseconds', none: 'no limit' },
  slowLooks: { label: 'Slow looks in a row', unit: 'count', none: '' },
  leeway: { label: 'Leeway', unit: 'seconds', none: '' },
  longestRun: { label: 'Longest run', unit: 'seconds', none: 'no limit' },
  shortestGap: { label: 'Shortest time between runs', unit: 'seconds', none: 'no limit' },
  methods: {
    label: 'Requests that count',
    unit: 'text',
    none: '',
    texts: { any: 'any', post: 'only POST' },
  },
  mailFrom: { label: 'Mail may come from', unit: 'text', none: 'anyone' },
  mailFailed: { label: 'Words for failed', unit: 'text', none: 'none' },
  mailBegun: { label: 'Words for begun', unit: 'text', none: 'none' },
  mailDone: { label: 'Words for done', unit: 'text', none: 'every other mail' },
  mailWhere: {
    label: 'Words count in',
    unit: 'text',
    none: '',
    texts: { subject: 'subject only', body: 'subject, then body' },
  },
  restsOn: { label: 'Rests on', unit: 'watches', none: 'nothing' },
  urgency: { label: 'Urgency', unit: 'text', none: '', texts: URGENCY_WORDS },
  runbook: { label: 'Runbook', unit: 'text', none: 'none' },
  runbookNote: { label: 'What to do', unit: 'text', none: 'nothing' },
  tells: { label: 'Who hears', unit: 'text', none: '', texts: TELLS_WORDS },
  tellsTo: { label: 'Channels of its own', unit: 'channels', none: 'none' },
};

const LONGEST = 60;

/** A value of a setting in words. `nameOf` turns the id of a watch into its name. */
export function settingValueText(
  words: SettingWords,
  value: unknown,
  nameOf: (id: number) => string | undefined,
): string {
  if (value === null || value === undefined || value === '') return words.none || 'none';
  const text = words.texts?.[String(value)];
  if (text !== undefined) return text;
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  switch (words.unit) {
    case 'seconds':
      return formatDuration(Number(value) * 1000);
    case 'milliseconds':
      return `${String(value)} ms`;
    case 'times': {
      const { expression, zone } = value as { expression: string; zone: string };
      return `${cronInWords(expression) ?? expression} (${zone})`;
    }
    case 'watches': {
      const ids = value as number[];
      return ids.length === 0 ? words.none : ids.map((id) => nameOf(id) ?? `watch ${id}`).join(', ');
    }
    case 'channels': {
      const { length } = value as number[];
      return length === 0 ? words.none : countOf(length, 'channel');
    }
    default: {
      const line = String(value).split('\n', 1)[0]!;
      return line.length > LONGEST ? `${line.slice(0, LONGEST)}…` : line;
    }
  }
}

/** Where a value comes from, in words. */
export function levelText(level: Level, place: { kind: string; section: string | null }): string {
  switch (level) {
    case 'product':
      return 'as it ships';
    case 'instance':
      return 'set for everything';
    case 'kind':
      return `set for every ${place.kind} watch`;
    case 'section':
      return `set for the section ${place.section ?? ''}`;
    default:
      return 'set here';
  }
}
