import { CAUSES } from './cause-catalogue';

/** Values a cause's sentence is filled from, such as `{ status: 503 }`. */
export type CauseDetail = Record<string, string | number>;

export type CauseCode = keyof typeof CAUSES;

export const CAUSE_CODES = Object.keys(CAUSES) as CauseCode[];

/** The sentence of a cause, filled in. A value that is missing shows as "…"; a step of a journey stands first. */
export function causeSentence(code: CauseCode, detail: CauseDetail = {}): string {
  const sentence = CAUSES[code].sentence.replace(/\{(\w+)\}/g, (_, name: string) =>
    String(detail[name] ?? '…'),
  );
  return detail.step === undefined ? sentence : `${String(detail.step)}: ${sentence}`;
}

/** The fault is this machine's own: nothing was learnt of the target. */
export function isOurOwnFault(code: CauseCode | undefined): boolean {
  return code?.startsWith('look.') ?? false;
}

/** What a status says about where to look next (RFC 9110, section 15). */
function statusAdvice(status: number): string | null {
  if (status === 401)
    return 'It asks for a sign-in: set a name and password or a token for this watch, or correct them.';
  if (status === 403)
    return 'It knows who asks and lets nobody in: look at its rules, and whether this machine may come.';
  if (status === 404 || status === 410)
    return 'The page is not there: check the address, and whether the last release moved it.';
  if (status === 407)
    return 'A proxy in between asks for a sign-in: set its name and password for this watch.';
  if (status === 429)
    return 'It finds that it is asked too often: look less often, or have this machine excepted.';
  if (status === 503)
    return 'It says itself that it cannot serve now: look at its load and its log, and at what it rests on.';
  if (status === 502 || status === 504) {
    return 'What answers stands before the service and cannot reach it: look whether the service behind it runs.';
  }
  if (status >= 300 && status < 400)
    return 'It leads elsewhere: look at the new address, or let redirects be followed.';
  return null;
}

/** The next thing to try for a cause, as far as what was seen tells more than the cause alone. */
export function causeAdvice(code: CauseCode, detail: CauseDetail = {}): string {
  const own = code === 'reply.status' ? statusAdvice(Number(detail.status)) : null;
  return own ?? CAUSES[code].advice;
}
