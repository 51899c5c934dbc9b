/** What the environment sets; see the README for each. */
export interface Environment {
  port: number;
  host: string;
  dataFolder: string;
  /** Without a slash at its end; null when not set. */
  baseUrl: string | null;
  adminEmail: string | null;
  adminPassword: string | null;
  apiToken: string | null;
  /** Addresses and networks (CIDR) whose forwarded headers count. */
  trustedProxies: string[];
  zone: string;
  hosts: string;
  looksAtOnce: number;
  looksPerHost: number;
  /** Threads that carry out looks; null for as many as suit the machine. */
  lookThreads: number | null;
  keepFindingsDays: number;
  /** What the scripts of the process that draws pages may keep in memory, in MB. */
  deskMemory: number;
  /** Whether browsers of visitors may be pushed to by services of this network. */
  nearPushes: boolean;
  /** The folder messages may run scripts from; null where none may. */
  scripts: string | null;
  /** The folder copies of public pages are written below; null where none are. */
  copies: string | null;
}

type Source = Record<string, string | undefined>;

function wholeNumber(source: Source, name: string, fallback: number, least: number, most: number): number {
  const text = source[name];
  if (text === undefined || text === '') return fallback;
  const value = Number(text);
  if (!Number.isInteger(value) || value < least || value > most) {
    throw new Error(`Expected ${name} to be a whole number from ${least} to ${most}, got "${text}".`);
  }
  return value;
}

function webAddress(source: Source, name: string): string | null {
  const text = source[name];
  if (text === undefined || text === '') return null;
  try {
    const url = new URL(text);
    if (url.protocol === 'http:' || url.protocol === 'https:') return url.href.replace(/\/+$/, '');
  } catch {
    // Said below.
  }
  throw new Error(`Expected ${name} to be an address such as https://watch.example, got "${text}".`);
}

/** Reads and checks the environment. Throws with what was expected and what came. */
export function readEnvironment(source: Source): Environment {
  return {
    port: wholeNumber(source, 'PORT', 4780, 0, 65535),
    host: source.HOST || '127.0.0.1',
    dataFolder: source.LANTERN_DATA || 'data',
    baseUrl: webAddress(source, 'LANTERN_BASE_URL'),
    adminEmail: source.LANTERN_ADMIN_EMAIL || null,
    adminPassword: source.LANTERN_ADMIN_PASSWORD || null,
    apiToken: source.LANTERN_API_TOKEN || null,
    trustedProxies: (source.LANTERN_TRUSTED_PROXY ?? '')
      .split(',')
      .map((part) => part.trim())
      .filter(Boolean),
    zone: source.LANTERN_ZONE || source.TZ || Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC',
    hosts: source.LANTERN_HOSTS ?? '',
    looksAtOnce: wholeNumber(source, 'LANTERN_LOOKS_AT_ONCE', 64, 1, 1000),
    looksPerHost: wholeNumber(source, 'LANTERN_LOOKS_PER_HOST', 4, 1, 1000),
    lookThreads: source.LANTERN_LOOK_THREADS ? wholeNumber(source, 'LANTERN_LOOK_THREADS', 0, 0, 16) : null,
    keepFindingsDays: wholeNumber(source, 'LANTERN_KEEP_FINDINGS_DAYS', 14, 1, 3650),
    deskMemory: wholeNumber(source, 'LANTERN_DESK_MEMORY', 768, 256, 65_536),
    nearPushes: source.LANTERN_NEAR_PUSHES === 'yes',
    scripts: source.LANTERN_SCRIPTS || null,
    copies: source.LANTERN_COPIES || null,
  };
}

/** The address links begin with: the public one, or where the front door listens. */
export function linkBase(environment: Environment): string {
  if (environment.baseUrl) return environment.baseUrl;
  const host = environment.host === '0.0.0.0' || environment.host === '::' ? 'localhost' : environment.host;
  return `http://${host.includes(':') ? `[${host}]` : host}:${environment.port}`;
}
