import type { Element } from '@xmpp/client';

/** What refusals mean (RFC 6120 sections 6.5 and 8.3.3). */
const REFUSALS: Record<string, string> = {
  'not-authorized': 'The account or its password was refused',
  'account-disabled': 'The account is closed',
  forbidden: 'We may not write there',
  'not-allowed': 'We may not write there',
  'registration-required': 'The room takes only its members',
  conflict: 'Our name is taken in the room',
  'item-not-found': 'There is no such room or person',
  'remote-server-not-found': 'The server of that address was not found',
  'service-unavailable': 'There is no such room or person, or it takes nothing',
  'policy-violation': 'The server held that for too much',
};
const LASTING = new Set(['forbidden', 'not-allowed', 'registration-required', 'item-not-found']);

export class XmppRefusal extends Error {
  constructor(
    readonly condition: string,
    said: string,
  ) {
    super([REFUSALS[condition] ?? `It was refused (${condition})`, said].filter(Boolean).join(': '));
  }

  /** Another try would meet it as well. */
  get isLasting(): boolean {
    return LASTING.has(this.condition);
  }
}

/** The error in a stanza, as a refusal. */
export function refusalIn(stanza: Element): XmppRefusal | null {
  const error = stanza.attrs.type === 'error' ? stanza.getChild('error') : undefined;
  if (!error) return null;
  const condition = error.getChildElements().find(({ name }) => name !== 'text')?.name ?? 'unknown';
  return new XmppRefusal(condition, error.getChildText('text') ?? '');
}

/** What is wrong with a connection, in words. */
export function inWords(error: unknown): Error {
  const { condition, code, message } = error as Error & { condition?: string; code?: string };
  if (condition) return new XmppRefusal(condition, '');
  return new Error(`No connection: ${code ?? message}`);
}
