/** Values a cause's sentence is filled from, such as `{ status: 503 }`. */
export type CauseDetail = Record<string, string | number>;

export interface Cause {
  /** One plain sentence; `{name}` is replaced from the detail. */
  sentence: string;
  /** The next thing to try. */
  advice: string;
}

/** Every way to fail. A retired code is never used again. */
export const CAUSES = {
  'name.not-found': {
    sentence: 'The name {host} does not exist.',
    advice: 'Check the spelling, and whether the domain was renewed and its records are still there.',
  },
  'name.server-failed': {
    sentence: 'The name server could not answer for {host}.',
    advice: 'Look at the name server, or try another resolver; other names may be affected too.',
  },
  'host.no-route': {
    sentence: 'There is no route to {address}.',
    advice: 'Check that the host is on, that its address is right, and the network between here and there.',
  },
  'port.refused': {
    sentence: 'The host is there, but nothing listens on port {port}.',
    advice: 'Start the service, or check which port it listens on.',
  },
  'port.timeout': {
    sentence: 'No connection to port {port} within {limit}.',
    advice: 'The host may be off or a firewall may drop the traffic; try from the same network.',
  },
  'port.closed': {
    sentence: 'Port {port} accepted the connection and closed it at once.',
    advice: 'Look at the log of the service for the reason.',
  },
  'tls.failed': {
    sentence: 'The secure connection could not be set up: {reason}.',
    advice: 'Check that this port speaks TLS and offers a current protocol version.',
  },
  'tls.expired': {
    sentence: 'The certificate expired {ago} ago.',
    advice: 'Renew the certificate, load it into the server, and look again.',
  },
  'tls.not-yet-valid': {
    sentence: 'The certificate only becomes valid in {ahead}.',
    advice: 'Check the clock of this machine and the dates of the certificate.',
  },
  'tls.wrong-name': {
    sentence: 'The certificate is for {names}, not for {host}.',
    advice: 'Install a certificate that names this host, or use an address the certificate names.',
  },
  'tls.untrusted': {
    sentence: 'The certificate is not from an authority this machine trusts ({reason}).',
    advice: 'Install the whole chain on the server, or make its authority known to this machine.',
  },
  'reply.timeout': {
    sentence: 'Connected, but no reply within {limit}.',
    advice: 'The service hangs or is overloaded: look at its load and its log.',
  },
  'reply.cut-off': {
    sentence: 'The reply was cut off before it was complete.',
    advice: 'Look for a crash in the log of the service, or a proxy that gives up early.',
  },
  'reply.unreadable': {
    sentence: 'What answered does not speak HTTP: {reason}.',
    advice: 'Check the port and whether the address should begin with http or https.',
  },
  'reply.redirects': {
    sentence: 'More than {limit} redirects in a row.',
    advice: 'Two rules probably send visitors back and forth; follow the addresses one by one.',
  },
  'reply.bad-redirect': {
    sentence: 'The reply redirects to an address that cannot be followed: {location}.',
    advice: 'Correct the Location header that the server sends.',
  },
  'reply.status': {
    sentence: 'The server answers, but replies {status}.',
    advice: 'Look in the log of the service at the time of the first failed look.',
  },
  'text.missing': {
    sentence: 'The words “{words}” are missing from the page.',
    advice: 'Open the page: it may show an error, or the wording may have changed on purpose.',
  },
  'look.broken': {
    sentence: 'This look could not be carried out here: {reason}.',
    advice: 'This is a fault of Calm Lantern or of the machine it runs on, not of the target.',
  },
  'checkin.missed': {
    sentence: 'Expected by {deadline}, but no check-in came.',
    advice: 'Look on the job’s machine whether it started, and whether it can reach this address.',
  },
  'checkin.failed': {
    sentence: 'The job reported that it failed.',
    advice: 'Read the output it sent, or its log on the machine it runs on.',
  },
  'checkin.exit-status': {
    sentence: 'The job ended with exit status {code}.',
    advice: 'Read the output it sent, or its log on the machine it runs on.',
  },
  'checkin.unfinished': {
    sentence: 'The job began at {begun}, but never said it was done.',
    advice: 'It may hang or may have been ended: look for it on its machine.',
  },
  'checkin.overlong': {
    sentence: 'The job began at {begun} and has run longer than the allowed {limit}.',
    advice: 'Look whether it hangs, or allow it longer if it has more to do than it had.',
  },
} as const satisfies Record<string, Cause>;

export type CauseCode = keyof typeof CAUSES;

export const CAUSE_CODES = Object.keys(CAUSES) as CauseCode[];

/** The sentence of a cause, filled in. A value that is missing shows as "…". */
export function causeSentence(code: CauseCode, detail: CauseDetail = {}): string {
  return CAUSES[code].sentence.replace(/\{(\w+)\}/g, (_, name: string) => String(detail[name] ?? '…'));
}
