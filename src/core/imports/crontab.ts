import type { CronDialect } from '@/core/schedule/cron-times';
import {
  FIVE,
  formOf,
  isJobLine,
  SHORT,
  USER,
  VARIABLE,
  withoutReturn,
  type CrontabForm,
} from './crontab-form';
import { isTimeZone } from '@/core/time/zone-time';
import { nextDues, timesProblem } from '@/core/schedule/schedule';

/** One line of a crontab that starts a job. */
export interface CrontabJob {
  /** Counted from 1. */
  line: number;
  /** As five fields; random ranges stand at their beginning. */
  expression: string;
  /** How much later than that a random choice may put it, in seconds. */
  randomSeconds: number;
  zone: string;
  /** Everything before the command, byte for byte. */
  before: string;
  /** The command up to the first bare percent sign, byte for byte. */
  command: string;
  /** What cron hands the command to read: from the first bare percent sign on. */
  input: string;
  /** Why it cannot be watched, or null. */
  problem: string | null;
}

export interface Crontab {
  form: CrontabForm;
  lines: string[];
  jobs: CrontabJob[];
  /** What lines before a job set for it (crontab(5)), by name. */
  variables: Record<string, string>;
  /** Whose cron it is makes a difference to what stands here. */
  dialectMatters: boolean;
}

function unquoted(value: string): string {
  const trimmed = value.trim();
  const quote = /^(["'])(.*)\1$/.exec(trimmed);
  return quote ? quote[2]! : trimmed;
}

/** Random ranges (a~b, as some crons have them) stand at their beginning; how long they are is told apart. */
function withoutRandom(fields: string[]): { expression: string; randomSeconds: number } {
  const bounds: [number, number, number][] = [
    [0, 59, 60],
    [0, 23, 3600],
    [1, 28, 86_400],
    [1, 12, 0],
    [0, 6, 0],
  ];
  let randomSeconds = 0;
  const plain = fields.map((field, i) => {
    const random = /^(\d*)~(\d*)$/.exec(field);
    if (!random) return field;
    const [least, most, unit] = bounds[i]!;
    const from = random[1] === '' ? least : Number(random[1]);
    const to = random[2] === '' ? most : Number(random[2]);
    randomSeconds += Math.max(0, to - from) * unit;
    return String(from);
  });
  return { expression: plain.join(' '), randomSeconds };
}

/** Where the first percent sign stands that no backslash takes for itself (crontab(5)); -1 for none. */
function barePercent(command: string): number {
  return /(?<!\\)%/.exec(command)?.index ?? -1;
}

/**
 * Reads a crontab line by line; every line is kept as it is. `zone` is what holds until CRON_TZ says otherwise, which
 * Debian's cron does not heed.
 */
export function readCrontab(
  text: string,
  zone: string,
  form: CrontabForm = formOf(text) === 'system' ? 'system' : 'user',
  dialect: CronDialect = 'usual',
): Crontab {
  const lines = text.split('\n');
  const jobs: CrontabJob[] = [];
  const variables: Record<string, string> = {};
  let place = zone;
  let delay = 0;
  for (const [i, whole] of lines.entries()) {
    const line = withoutReturn(whole);
    const variable = VARIABLE.exec(line);
    if (variable && !line.trim().startsWith('#')) {
      const name = (variable[1] ?? variable[2] ?? variable[3])!;
      const value = unquoted(variable[4]!);
      variables[name] = value;
      if (name === 'CRON_TZ' && dialect === 'usual') place = value;
      if (name === 'RANDOM_DELAY') delay = Number(value) * 60 || 0;
    }
    if (isJobLine(line)) jobs.push(jobOf(line, i + 1, { zone: place, form, delay, dialect }));
  }
  const dialectMatters = 'CRON_TZ' in variables || jobs.some((job) => daysDiffer(job.expression));
  return { form, lines, jobs, variables, dialectMatters };
}

/** A step in one of the days beside the other one named: some crons take both, some either. */
function daysDiffer(expression: string): boolean {
  const [, , day = '*', , weekday = '*'] = expression.split(/\s+/);
  return day !== '*' && weekday !== '*' && (day.startsWith('*') || weekday.startsWith('*'));
}

interface JobContext {
  zone: string;
  form: CrontabForm;
  delay: number;
  dialect: CronDialect;
}

function jobOf(line: string, number: number, { zone, form, delay, dialect }: JobContext): CrontabJob {
  const empty = {
    line: number,
    expression: '',
    randomSeconds: 0,
    zone,
    before: line,
    command: '',
    input: '',
  };
  const short = SHORT.exec(line);
  const five = short ? null : FIVE.exec(line);
  if (!short && !five) {
    return { ...empty, problem: 'Expected five fields (minute hour day month weekday) and a command.' };
  }
  const times = short ? short[2]! : five![1]!.trim();
  const rest = short ? short[3]! : five![2]!;
  const user = form === 'system' ? USER.exec(rest) : null;
  if (form === 'system' && !user)
    return { ...empty, problem: 'Expected a user and a command behind the times.' };
  const command = user ? user[3]! : rest;
  const before = line.slice(0, line.length - command.length);
  const percent = barePercent(command);
  const { expression, randomSeconds } = short
    ? { expression: times.toLowerCase(), randomSeconds: 0 }
    : withoutRandom(times.split(/\s+/));
  const job = {
    ...empty,
    expression,
    randomSeconds: randomSeconds + delay,
    before,
    command: percent < 0 ? command : command.slice(0, percent),
    input: percent < 0 ? '' : command.slice(percent),
  };
  if (/^@reboot$/i.test(times)) {
    return { ...job, problem: 'It runs when the machine starts; no due time can be named.' };
  }
  if (!isTimeZone(zone)) return { ...job, problem: `Expected a time zone in CRON_TZ, got “${zone}”.` };
  return { ...job, problem: timesProblem({ type: 'cron', expression, zone, dialect }) };
}

const LEEWAYS = [5, 10, 15, 30, 60, 120, 240, 360].map((minutes) => minutes * 60);

/** A leeway in seconds from how often a job runs: about a tenth of the shortest gap, and all that chance may add. */
export function leewayFor(
  schedule: { expression: string; zone: string; type: 'cron' | 'calendar' },
  randomSeconds: number,
  now: number,
): number {
  const dues = nextDues(schedule, now, 8);
  const gaps = dues.slice(1).map((due, i) => (due - dues[i]!) / 1000);
  const gap = gaps.length === 0 ? 86_400 : Math.min(...gaps);
  const fitting = LEEWAYS.filter((leeway) => leeway <= Math.max(LEEWAYS[0]!, gap / 8));
  return fitting.at(-1)! + randomSeconds;
}

/** What can be handed on word by word, without a shell that reads it again. */
const PLAIN = /^[\w@+=:,./\s-]+$/;

/** Words of the shell itself: they start nothing that could be handed on. */
const OF_THE_SHELL = new Set(
  'if for while until case then do { ( ! . : cd eval exec exit export read return set shift source test trap ulimit umask unset wait'.split(
    ' ',
  ),
);
/** Shells that read what is written here; for others, one that does is called. */
const KNOWN_SHELLS = new Set(['sh', 'bash', 'dash', 'ash', 'ksh', 'mksh', 'zsh', 'busybox']);

function quoted(text: string): string {
  return `'${text.replaceAll("'", `'\\''`)}'`;
}

export const USUAL_WRAPPER = '/usr/local/bin/lantern-run';

/** What is wrong with the path of the wrapper, in words, or null: cron knows of few places by itself. */
export function wrapperProblem(path: string): string | null {
  return /^\/[\w.+/-]{1,200}$/.test(path) && !path.endsWith('/')
    ? null
    : `Expected the whole path of the wrapper such as ${USUAL_WRAPPER}, got “${path.slice(0, 80)}”.`;
}

/**
 * A command that runs what it ran, through the wrapper where that is there, and without it where not: a job must not
 * stay away because a file does.
 */
function wrappedCommand(bare: string, address: string, wrapper: string, shell: string): string {
  const first = bare.split(/\s+/, 1)[0]!;
  const plain = PLAIN.test(bare) && !/^[A-Za-z_]\w*=/.test(bare) && !OF_THE_SHELL.has(first);
  const job = plain ? bare : `"$SHELL" -c ${quoted(bare)}`;
  const line = `w=${wrapper}; set -- ${job}; [ -x $w ] && exec $w ${address} -- "$@"; exec "$@"`;
  return KNOWN_SHELLS.has(shell.split('/').at(-1)!) ? line : `/bin/sh -c ${quoted(line)}`;
}

/** The same line with its command wrapped; everything else byte for byte as it was. */
export function wrappedLine(
  job: CrontabJob,
  address: string,
  { wrapper = USUAL_WRAPPER, shell = '/bin/sh' }: { wrapper?: string; shell?: string } = {},
): string {
  const { before, command, input } = job;
  const bare = command.trimEnd();
  return before + wrappedCommand(bare, address, wrapper, shell) + command.slice(bare.length) + input;
}

/**
 * A line for a terminal that runs a command in the environment cron would run it in (crontab(5)): none of what a person's
 * shell has set, and few places to look for programs.
 */
export function trialLine(command: string, variables: Readonly<Record<string, string>>): string {
  const {
    SHELL: shell = '/bin/sh',
    PATH: path = '/usr/bin:/bin',
    MAILTO: _,
    CRON_TZ: __,
    ...rest
  } = variables;
  const set = Object.entries({ PATH: path, SHELL: shell, ...rest }).map(
    ([name, value]) => `${name}=${quoted(value)}`,
  );
  // What cron reads as an end of line has a backslash before it, which cron takes away.
  const plain = command.replaceAll('\\%', '%');
  return `env -i HOME="$HOME" LOGNAME="$LOGNAME" ${set.join(' ')} ${shell} -c ${quoted(plain)}`;
}

/** Keys and readable names a line reports to already, as they stand behind "/in/" or behind the wrapper. */
export function reportedKeys(line: string): string[] {
  const inAddress = [...line.matchAll(/\/in\/([\w-]+(?:\/[a-z0-9._-]+)?)/g)].map((match) => match[1]!);
  const behindWrapper = [...line.matchAll(/lantern-run\s+([\w-]+(?:\/[a-z0-9._-]+)?)\s+--/g)].map(
    (m) => m[1]!,
  );
  return [...new Set([...inAddress, ...behindWrapper])];
}
