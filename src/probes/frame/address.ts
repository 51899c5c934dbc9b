import { isIP } from 'node:net';

/**
 * What a person typed as a web address, made whole: a scheme is added where it lacks (http for numbers and
 * localhost, https for names). Returns null when it cannot be a web address (WHATWG URL).
 */
export function normaliseWebAddress(typed: string): string | null {
  const text = typed.trim();
  if (text === '' || /\s/.test(text)) return null;
  const hasScheme = /^[a-z][a-z0-9+.-]*:\/\//i.test(text);
  const bare = text
    .split(/[/?#]/)[0]!
    .replace(/:\d+$/, '')
    .replace(/^\[|\]$/g, '');
  const plain = isIP(bare) !== 0 || bare === 'localhost';
  try {
    const url = new URL(hasScheme ? text : `${plain ? 'http' : 'https'}://${text}`);
    if ((url.protocol !== 'http:' && url.protocol !== 'https:') || url.hostname === '') return null;
    if (!plain && !hasScheme && !url.hostname.includes('.')) return null;
    return url.href;
  } catch {
    return null;
  }
}

/** An address without the name and password that stood before its host, and those two, decoded. */
export function splitSignIn(address: URL): { address: string; user: string; password: string } {
  const bare = new URL(address);
  bare.username = bare.password = '';
  const [user, password] = [address.username, address.password].map(decoded) as [string, string];
  return { address: bare.href, user, password };
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

/** Why an address with a name or a password in it is refused, or null: it would be shown to everyone at the desk. */
export function signInProblem(address: string, instead: string): string | null {
  if (!URL.canParse(address)) return null;
  const { username, password, host } = new URL(address);
  if (username === '' && password === '') return null;
  return `Expected an address without a name and password, got one before ${host}. ${instead}`;
}

/** Accepted status codes as a person writes them: "200-299, 401". Null when it cannot be read. */
export function parseStatusRanges(text: string): [number, number][] | null {
  const ranges: [number, number][] = [];
  for (const part of text.split(',')) {
    const match = /^\s*(\d{3})(?:\s*-\s*(\d{3}))?\s*$/.exec(part);
    if (!match) return null;
    const from = Number(match[1]);
    const to = Number(match[2] ?? match[1]);
    if (from < 100 || to > 599 || from > to) return null;
    ranges.push([from, to]);
  }
  return ranges.length > 0 ? ranges : null;
}

/** What a person may have meant by an address: with or without a scheme, a port and a path. */
export interface Typed {
  host: string;
  /** What stood before the host: name and password. */
  user: string;
  password: string;
  port: number | null;
  scheme: 'http' | 'https' | null;
  /** With its slash. */
  path: string;
}

/** Takes an address apart, whatever is left out. Null when there is no host in it. */
export function parseTyped(typed: string): Typed | null {
  const text = typed.trim();
  const bareV6 = isIP(text) === 6 ? `[${text}]` : text;
  const scheme = /^(https?):\/\//i.exec(bareV6)?.[1]?.toLowerCase() as Typed['scheme'] | undefined;
  if (text === '' || /\s/.test(text) || (!scheme && /^[a-z][a-z0-9+.-]*:\/\//i.test(text))) return null;
  try {
    const url = new URL(scheme ? bareV6 : `http://${bareV6}`);
    // A port that is its scheme's own is not kept by URL, though it may have been typed.
    const port = /^(?:https?:\/\/)?(?:[^/?#@]*@)?(?:\[[^\]]*\]|[^/?#:]*):(\d+)/i.exec(bareV6)?.[1];
    const host = url.hostname.replace(/^\[|\]$/g, '');
    if (host === '' || !/^[\w.:-]+$/.test(host)) return null;
    const { user, password } = splitSignIn(url);
    return {
      host,
      user,
      password,
      port: port ? Number(port) : null,
      scheme: scheme ?? null,
      path: url.pathname + url.search,
    };
  } catch {
    return null;
  }
}
