interface RefusalKind {
  /** HTTP status (RFC 9110, RFC 6585). */
  status: number;
  title: string;
  /** When it is said, for the reference. */
  when: string;
}

/**
 * Everything a request may be refused for. A code stands for one thing for good; one that is retired is not used again.
 */
export const REFUSALS = {
  'input.unreadable': {
    status: 400,
    title: 'Not readable',
    when: 'The body is no JSON object, or lies too deep.',
  },
  'input.query': {
    status: 422,
    title: 'Not accepted',
    when: 'A parameter of the query is unknown or wrong.',
  },
  'input.invalid': { status: 422, title: 'Not accepted', when: 'Fields were refused; errors names each.' },
  'signin.needed': { status: 401, title: 'Not signed in', when: 'No session, and no token that is known.' },
  'signin.throttled': { status: 429, title: 'Too many tries', when: 'Signing in failed too often of late.' },
  'signin.busy': { status: 503, title: 'Busy', when: 'Too many sign-ins at once.' },
  'right.missing': { status: 403, title: 'Refused', when: 'Who asks has not the right this needs.' },
  'origin.foreign': { status: 403, title: 'Refused', when: 'Another site made the browser ask.' },
  'host.foreign': {
    status: 421,
    title: 'Another name',
    when: 'The request came to a name that is not ours.',
  },
  'account.exists': { status: 409, title: 'Already set up', when: 'There is a first account already.' },
  'not.found': { status: 404, title: 'Not found', when: 'There is no such thing, or no such address.' },
  'version.unknown': { status: 404, title: 'No such version', when: 'Only /api/v1 is there.' },
  'method.unknown': { status: 405, title: 'Not allowed', when: 'The address does not take this method.' },
  'answer.unacceptable': {
    status: 406,
    title: 'Not acceptable',
    when: 'Accept allows neither the type of the answer nor JSON.',
  },
  'body.slow': { status: 408, title: 'Too slow', when: 'The body took too long to arrive.' },
  'state.changed': {
    status: 412,
    title: 'Changed meanwhile',
    when: 'Somebody else has changed it since it was read.',
  },
  'keep.full': {
    status: 503,
    title: 'No room',
    when: 'The disk is full: nothing was changed.',
  },
  'body.long': { status: 413, title: 'Too long', when: 'The body is larger than is taken in.' },
  'body.type': { status: 415, title: 'Not JSON', when: 'The body is not application/json.' },
  'state.unnamed': {
    status: 428,
    title: 'Say what you read',
    when: 'A whole list would be written over; If-Match says which one was read.',
  },
  'key.reused': {
    status: 422,
    title: 'Key used before',
    when: 'The Idempotency-Key stands for another request.',
  },
  'watch.no-probe': { status: 409, title: 'Nothing to look at', when: 'A check-in waits to hear.' },
  'watch.no-checkin': { status: 409, title: 'No check-in', when: 'A probe has no check-in address.' },
  'watch.not-told': {
    status: 409,
    title: 'Nothing to take',
    when: 'Nothing that is open is told of the watch, so that nobody can have it.',
  },
  'link.over': {
    status: 410,
    title: 'The link is over',
    when: 'A link in a message is about a trouble that is over, or is too old.',
  },
  'delivery.waiting': {
    status: 409,
    title: 'Still on its way',
    when: 'A message that still waits is sent by itself, and not once more by hand.',
  },
  'channel.rests': {
    status: 409,
    title: 'The channel rests',
    when: 'Nothing is sent to a channel that rests.',
  },
  'window.over': { status: 409, title: 'It is over', when: 'Maintenance that is over cannot be moved.' },
  'window.waiting': {
    status: 409,
    title: 'It has not begun',
    when: 'Maintenance that has not begun cannot be ended.',
  },
  'follow.busy': {
    status: 429,
    title: 'Too many ask',
    when: 'Too many asked to follow a page of late.',
  },
  'drill.over': { status: 409, title: 'It is over', when: 'A drill that is over cannot be ended.' },
  'work.too-long': {
    status: 503,
    title: 'Too much to work out',
    when: 'What was asked for could not be worked out within its limits of time and memory.',
  },
  'watch.paused': { status: 409, title: 'Paused', when: 'A watch that is paused is not looked at.' },
  'desk.away': {
    status: 503,
    title: 'Desk away',
    when: 'What answers the API is being started again, or has too much to do; a moment later it answers.',
  },
  'engine.away': { status: 503, title: 'Engine away', when: 'The engine is being started again.' },
  'own.fault': { status: 500, title: 'Fault', when: 'Something went wrong here; it was noted in the log.' },
} as const satisfies Record<string, RefusalKind>;

export type RefusalCode = keyof typeof REFUSALS;

export function refusalKind(code: RefusalCode): RefusalKind {
  return REFUSALS[code];
}
