import { CAUSES, type Cause } from './cause-catalogue';
import { OWN_TROUBLES, type OwnTroubleCode, type OwnTroubleText } from './own-trouble';

/** What causes are called in one language, each with its advice; `{name}` is replaced from the detail. */
export interface CauseWords {
  causes: Record<keyof typeof CAUSES, Cause>;
  /** What a status says about where to look next (RFC 9110, section 15). */
  status: Record<StatusGroup, string>;
  own: Record<OwnTroubleCode, OwnTroubleText>;
  /** What still holds where something else broke, as parts of a sentence; `{port}` is a number. */
  holds: { name: string; host: string; port: string; certificate: string; reply: string };
  /** Said behind a cause where the host is silent too: a sentence. */
  silent: string;
  and: string;
}

export type StatusGroup = '401' | '403' | '404' | '407' | '429' | '503' | 'gateway' | 'elsewhere';

export const ENGLISH: CauseWords = {
  causes: CAUSES,
  status: {
    '401': 'It asks for a sign-in: set a name and password or a token for this watch, or correct them.',
    '403': 'It knows who asks and lets nobody in: look at its rules, and whether this machine may come.',
    '404': 'The page is not there: check the address, and whether the last release moved it.',
    '407': 'A proxy in between asks for a sign-in: set its name and password for this watch.',
    '429': 'It finds that it is asked too often: look less often, or have this machine excepted.',
    '503': 'It says itself that it cannot serve now: look at its load and its log, and at what it rests on.',
    gateway:
      'What answers stands before the service and cannot reach it: look whether the service behind it runs.',
    elsewhere: 'It leads elsewhere: look at the new address, or let redirects be followed.',
  },
  own: OWN_TROUBLES,
  holds: {
    name: 'the name is known',
    host: 'the host answers ping',
    port: 'port {port} is open',
    certificate: 'the certificate holds',
    reply: 'it replies',
  },
  silent: 'The host does not answer ping.',
  and: 'and',
};

/** The group of a status that an advice is for, if it is in one. */
export function statusGroup(status: number): StatusGroup | null {
  if (status === 410) return '404';
  if (status === 502 || status === 504) return 'gateway';
  if (status >= 300 && status < 400) return 'elsewhere';
  const group = String(status);
  return group in ENGLISH.status ? (group as StatusGroup) : null;
}
