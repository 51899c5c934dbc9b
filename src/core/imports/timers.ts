/** A timer of systemd, as far as watching it goes. */
export interface Timer {
  /** Without ".timer". */
  name: string;
  /** OnCalendar= lines, one a line; empty where only a period is known. */
  expression: string;
  /** Seconds between two runs, where no times are known. */
  every: number | null;
  /** How much later chance may put it, in seconds. */
  randomSeconds: number;
  problem: string | null;
}

const UNITS: Record<string, number> = {
  us: 1e-6,
  ms: 1e-3,
  s: 1,
  sec: 1,
  second: 1,
  seconds: 1,
  m: 60,
  min: 60,
  minute: 60,
  minutes: 60,
  h: 3600,
  hr: 3600,
  hour: 3600,
  hours: 3600,
  d: 86_400,
  day: 86_400,
  days: 86_400,
  w: 604_800,
  week: 604_800,
  weeks: 604_800,
};

/** A time span as systemd.time(7) writes it, such as "1h 30min", in seconds; null where it is none. */
export function spanSeconds(text: string): number | null {
  const pieces = [...text.trim().matchAll(/(\d+(?:\.\d+)?)\s*([a-z]*)\s*/gi)];
  if (pieces.length === 0 || pieces.map((piece) => piece[0]).join('') !== text.trim()) return null;
  let seconds = 0;
  for (const [, count, unit] of pieces) {
    const size = unit === '' ? 1 : UNITS[unit!.toLowerCase()];
    if (size === undefined) return null;
    seconds += Number(count) * size;
  }
  return Math.round(seconds);
}

interface Listed {
  unit?: unknown;
  next?: unknown;
  last?: unknown;
}

function timerOfListed({ unit, next, last }: Listed): Timer | null {
  if (typeof unit !== 'string') return null;
  // Microseconds since 1970; 0 or null where there is none.
  const gap = Number(next) > 0 && Number(last) > 0 ? Math.round((Number(next) - Number(last)) / 1e6) : 0;
  const every = gap >= 10 ? Math.max(60, Math.round(gap / 60) * 60) : null;
  return {
    name: unit.replace(/\.timer$/, ''),
    expression: '',
    every,
    randomSeconds: 0,
    problem:
      every === null ? 'It has not run yet, so how often it does is not known; paste its unit file.' : null,
  };
}

function timerOfUnit(name: string, lines: readonly string[]): Timer {
  const values = (key: string) =>
    lines.flatMap((line) => {
      const at = line.indexOf('=');
      return at > 0 && line.slice(0, at).trim() === key ? [line.slice(at + 1).trim()] : [];
    });
  // An empty assignment takes back what stood before it.
  const calendars = values('OnCalendar');
  const kept = calendars.slice(calendars.lastIndexOf('') + 1);
  const every = spanSeconds(values('OnUnitActiveSec').at(-1) ?? values('OnUnitInactiveSec').at(-1) ?? '');
  const problem =
    kept.length > 0 || every !== null ? null : 'It has neither OnCalendar= nor OnUnitActiveSec=.';
  return {
    name,
    expression: kept.join('\n'),
    every: kept.length > 0 ? null : every,
    randomSeconds: spanSeconds(values('RandomizedDelaySec').at(-1) ?? '0') ?? 0,
    problem,
  };
}

const isTimerHead = (line: string) => line.trimStart().startsWith('[Timer]');

/** The unit whose file a comment names, such as "# /etc/systemd/system/tide.timer" or a drop-in's; null where it is no such one. */
function unitOf(line: string): string | null {
  if (!line.startsWith('#')) return null;
  const path = line.slice(1).trim();
  return /\s/.test(path) ? null : (/(?:^|\/)([^/]+)\.timer(?:\.d\/.+)?$/.exec(path)?.[1] ?? null);
}

/**
 * Timers from `systemctl list-timers --output=json`, or from unit files one below the other as `systemctl cat` prints
 * them, each headed by a comment with its path. Null where the text is neither.
 */
export function readTimers(text: string): Timer[] | null {
  const trimmed = text.trim();
  if (trimmed.startsWith('[{') || trimmed === '[]') {
    try {
      return (JSON.parse(trimmed) as Listed[]).map(timerOfListed).filter((timer) => timer !== null);
    } catch {
      return null;
    }
  }
  const lines = text.split('\n');
  if (!lines.some(isTimerHead)) return null;
  const timers = new Map<string, string[]>();
  let name = 'timer';
  for (const line of lines) {
    name = unitOf(line) ?? name;
    const before = timers.get(name);
    if (before) before.push(line);
    else timers.set(name, [line]);
  }
  return [...timers]
    .filter(([, unit]) => unit.some(isTimerHead))
    .map(([named, unit]) => timerOfUnit(named, unit));
}

/** A drop-in that lets a service report, whatever it starts (systemd.service(5)). */
export function dropIn(name: string, address: string): string {
  const send = (query: string) => `/usr/bin/curl -fsS -m 30 -o /dev/null "${address}?${query}"`;
  return [
    `# systemctl edit ${name}.service`,
    '[Service]',
    `ExecStartPre=-${send('is=begun')}`,
    `ExecStopPost=-/bin/sh -c 'case $SERVICE_RESULT in success) q=code=0;; exit-code) q=code=$EXIT_STATUS;; *) q=is=failed;; esac; exec ${send('$q')}'`,
  ].join('\n');
}
