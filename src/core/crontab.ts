import { isTimeZone } from './zone-time';
import { nextDues, timesProblem } from './schedule';

/** Whether lines name a user behind the times, as those of /etc/crontab do. */
export type CrontabForm = 'user' | 'system';

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
}

const VARIABLE = /^\s*([A-Za-z_][\w]*)\s*=\s*(.*)$/;
const FIVE = /^(\s*(?:\S+\s+){4}\S+\s+)(.*)$/;
const SHORT = /^(\s*(@\w+)\s+)(.*)$/;
const USER = /^([a-z_][a-z0-9_-]*\$?)(\s+)(\S.*)$/;

function unquoted(value: string): string {
  const trimmed = value.trim();
  const quote = /^(["'])(.*)\1$/.exec(trimmed);
  return quote ? quote[2]! : trimmed;
}

function isJobLine(line: string): boolean {
  const text = line.trim();
  return text !== '' && !text.startsWith('#') && !VARIABLE.test(text);
}

/** A crontab is taken for a system's where each of its jobs has what can only be a user behind the times. */
export function formOf(text: string): CrontabForm {
  const jobs = text.split('\n').filter(isJobLine);
  const users = jobs.map((line) => USER.exec((FIVE.exec(line)?.[2] ?? SHORT.exec(line)?.[3] ?? '').trim()));
  const all = jobs.length > 0 && users.every((user) => user !== null);
  return all && users.some((user) => user![1] === 'root' || user![3]!.startsWith('/')) ? 'system' : 'user';
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

/** Reads a crontab line by line; every line is kept as it is. `zone` is what holds until CRON_TZ says otherwise. */
export function readCrontab(text: string, zone: string, form: CrontabForm = formOf(text)): Crontab {
  const lines = text.split('\n');
  const jobs: CrontabJob[] = [];
  let place = zone;
  let delay = 0;
  for (const [i, line] of lines.entries()) {
    const variable = VARIABLE.exec(line);
    if (variable && !line.trim().startsWith('#')) {
      const value = unquoted(variable[2]!);
      if (variable[1] === 'CRON_TZ') place = value;
      if (variable[1] === 'RANDOM_DELAY') delay = Number(value) * 60 || 0;
    }
    if (isJobLine(line)) jobs.push(jobOf(line, i + 1, { zone: place, form, delay }));
  }
  return { form, lines, jobs };
}

function jobOf(
  line: string,
  number: number,
  { zone, form, delay }: { zone: string; form: CrontabForm; delay: number },
): CrontabJob {
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
  return { ...job, problem: timesProblem({ type: 'cron', expression, zone }) };
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

/** Programs that only start another. */
const STARTERS = new Set(
  'sudo nice ionice nohup env exec command time chronic setsid bash sh dash zsh python python3 perl php node ruby'.split(
    ' ',
  ),
);
/** Those that are followed by something of their own before the program. */
const WITH_ONE = new Set(['timeout', 'flock', 'cd', 'su']);

/** A name for a job from its command: the program, without what only starts it. */
export function jobName(command: string): string {
  const last = command.split(/&&|;|\|\|/).map((part) => part.trim());
  const piece = last.find((part) => !/^(cd|test|\[|export|source|\.)\b/.test(part)) ?? last[0]!;
  const words = piece.split('|')[0]!.trim().split(/\s+/);
  let i = 0;
  while (i < words.length - 1) {
    const word = words[i]!;
    if (/^[A-Za-z_]\w*=/.test(word) || word.startsWith('-') || /^\d/.test(word) || STARTERS.has(base(word)))
      i += 1;
    else if (WITH_ONE.has(base(word))) i += 2;
    else break;
  }
  const program = base(words[Math.min(i, words.length - 1)] ?? '').replace(/\.\w{1,4}$/, '');
  const spaced = program.replaceAll(/[-_.]+/g, ' ').trim();
  return spaced === '' ? 'Job' : spaced.charAt(0).toUpperCase() + spaced.slice(1);
}

function base(path: string): string {
  return path.split('/').at(-1) ?? path;
}

/** What can be handed on word by word, without a shell that reads it again. */
const PLAIN = /^[\w@+=:,./\s-]+$/;

/** The same line with the wrapper before its command; everything else byte for byte as it was. */
export function wrappedLine(job: CrontabJob, address: string, wrapper = 'lantern-run'): string {
  const { before, command, input } = job;
  const bare = command.trimEnd();
  const trailing = command.slice(bare.length);
  const plain = PLAIN.test(bare) && !/^[A-Za-z_]\w*=/.test(bare);
  const started = plain ? bare : `"$SHELL" -c '${bare.replaceAll("'", `'\\''`)}'`;
  return `${before}${wrapper} ${address} -- ${started}${trailing}${input}`;
}

/** Keys and readable names a line reports to already, as they stand behind "/in/" or behind the wrapper. */
export function reportedKeys(line: string): string[] {
  const inAddress = [...line.matchAll(/\/in\/([\w-]+(?:\/[a-z0-9._-]+)?)/g)].map((match) => match[1]!);
  const behindWrapper = [...line.matchAll(/lantern-run\s+([\w-]+(?:\/[a-z0-9._-]+)?)\s+--/g)].map(
    (m) => m[1]!,
  );
  return [...new Set([...inAddress, ...behindWrapper])];
}
