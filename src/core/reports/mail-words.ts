import type { ReportKind } from '@/core/lifecycle/status';

/** How the mails of a job are read. The lists are separated by commas or lines. */
export interface MailRules {
  /** Who may send: addresses, or @domain for everyone there; empty for anyone. */
  mailFrom: string;
  mailFailed: string;
  mailBegun: string;
  /** Empty: a mail that says neither failed nor begun is done. */
  mailDone: string;
  /** Where the words are looked for: the subject alone, or the body too when the subject says nothing. */
  mailWhere: 'subject' | 'body';
}

export const USUAL_MAIL_RULES: MailRules = {
  mailFrom: '',
  mailFailed: 'failed, failure, fail, error, aborted, unsuccessful',
  mailBegun: 'begun, started, starting',
  mailDone: 'done, success, successful, successfully, succeeded, completed, finished, ok',
  mailWhere: 'body',
};

export const MAIL_NAMES = ['mailFrom', 'mailFailed', 'mailBegun', 'mailDone', 'mailWhere'] as const;

/** How the mails of a watch are read; what is not set is as it ships. */
export function mailRulesOf(set: Partial<MailRules>): MailRules {
  const entries = MAIL_NAMES.map((name) => [name, set[name] ?? USUAL_MAIL_RULES[name]]);
  return Object.fromEntries(entries) as MailRules;
}

/** What a mail was taken for, and the word that said so. */
export interface MailReading {
  kind: ReportKind;
  word: string | null;
  place: 'subject' | 'body' | null;
}

/** The entries of a list typed with commas or lines between them. */
export function listedIn(text: string): string[] {
  return text
    .split(/[,\n]/)
    .map((entry) => entry.trim())
    .filter(Boolean);
}

function foundWord(words: string, text: string): string | null {
  const listed = listedIn(words).map((word) => word.replaceAll(/[\\^$.*+?()[\]{}|]/g, '\\$&'));
  if (listed.length === 0) return null;
  const anyOf = listed.map((word) => word.replaceAll(/\s+/g, '\\s+')).join('|');
  return new RegExp(`(?<![\\p{L}\\p{N}])(?:${anyOf})(?![\\p{L}\\p{N}])`, 'iu').exec(text)?.[0] ?? null;
}

/**
 * What the mail of a job says. The subject counts before the body; failed counts before begun, and begun before done.
 * Words stand alone, and case does not matter. A mail that says nothing known is a note, which changes nothing.
 */
export function readMail(rules: MailRules, mail: { subject: string; body: string }): MailReading {
  const kinds = [
    ['failed', rules.mailFailed],
    ['begun', rules.mailBegun],
    ['done', rules.mailDone],
  ] as const;
  for (const place of ['subject', 'body'] as const) {
    if (place === 'body' && rules.mailWhere === 'subject') continue;
    for (const [kind, words] of kinds) {
      const word = foundWord(words, mail[place]);
      if (word !== null) return { kind, word, place };
    }
  }
  const kind = listedIn(rules.mailDone).length === 0 ? 'done' : 'note';
  return { kind, word: null, place: null };
}

/** Whether a sender may report here. The empty sender of automatic answers may where everyone may. */
export function maySend(rules: MailRules, sender: string): boolean {
  const allowed = listedIn(rules.mailFrom).map((entry) => entry.toLowerCase());
  const from = sender.toLowerCase();
  const domain = from.slice(from.lastIndexOf('@'));
  return allowed.length === 0 || allowed.includes(from) || (from.includes('@') && allowed.includes(domain));
}

/** The mail address of a check-in. */
export function mailAddressOf(key: string, domain: string): string {
  return `${key}@${domain}`;
}

/** How the mail door is set. */
export interface MailEndpointSettings {
  open: boolean;
  port: number;
  /** What the addresses end in. */
  domain: string;
  /** The largest mail that is taken, in kB of 1000 bytes. */
  largestKb: number;
}

export const USUAL_MAIL_ENDPOINT: MailEndpointSettings = {
  open: false,
  port: 2525,
  domain: '',
  largestKb: 1000,
};
