import type { CrontabForm } from './crontab-form';
import type { ScheduleConfig } from '@/core/settings/watch-config';

/** One job of a crontab or one timer, and how it stands to what is watched. */
export interface JobRow {
  /** The line of a crontab, counted from 1; for timers their place in the list. */
  line: number;
  text: string;
  /** When it runs, in words. */
  words: string;
  name: string;
  schedule: ScheduleConfig | null;
  /** Seconds. */
  leeway: number;
  problem: string | null;
  /** How it stands to what is watched. */
  stands: 'new' | 'watched' | 'differs' | 'unknown address';
  watchId: number | null;
  /** What differs, in words. */
  note: string | null;
}

export interface JobDraft {
  form: CrontabForm | 'timers';
  /** What has to be said first: whether users stand behind the times, and whose cron it is. */
  asks: ('form' | 'cron')[];
  rows: JobRow[];
  /** Check-ins of the section that no line reports to. */
  without: { id: number; name: string }[];
}
