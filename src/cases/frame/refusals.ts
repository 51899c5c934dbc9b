interface RefusalKind {
  /** HTTP status (RFC 9110, RFC 6585). */
  status: number;
  title: string;
  /** When it is said, for the reference. */
  when: string;
}

const refused = (status: number, title: string, when: string): RefusalKind => ({ status, title, when });

/**
 * Everything a request may be refused for. A code stands for one thing for good; one that is retired is not used again.
 */
export const REFUSALS = {
  'input.unreadable': refused(400, 'Not readable', 'The body is no JSON object, or lies too deep.'),
  'input.query': refused(422, 'Not accepted', 'A parameter of the query is unknown or wrong.'),
  'input.invalid': refused(422, 'Not accepted', 'Fields were refused; errors names each.'),
  'signin.needed': refused(401, 'Not signed in', 'No session, and no token that is known.'),
  'signin.throttled': refused(429, 'Too many tries', 'Signing in failed too often of late.'),
  'signin.busy': refused(503, 'Busy', 'Too many sign-ins at once.'),
  'right.missing': refused(403, 'Refused', 'Who asks has not the right this needs.'),
  'origin.foreign': refused(403, 'Refused', 'Another site made the browser ask.'),
  'host.foreign': refused(421, 'Another name', 'The request came to a name that is not ours.'),
  'account.exists': refused(409, 'Already set up', 'There is a first account already.'),
  'not.found': refused(404, 'Not found', 'There is no such thing, or no such address.'),
  'version.unknown': refused(404, 'No such version', 'Only /api/v1 is there.'),
  'method.unknown': refused(405, 'Not allowed', 'The address does not take this method.'),
  'method.nowhere': refused(501, 'Not implemented', 'No address here takes this method.'),
  'answer.unacceptable': refused(
    406,
    'Not acceptable',
    'Accept allows neither the type of the answer nor JSON.',
  ),
  'body.slow': refused(408, 'Too slow', 'The body took too long to arrive.'),
  'state.changed': refused(412, 'Changed meanwhile', 'Somebody else has changed it since it was read.'),
  'keep.full': refused(503, 'No room', 'The disk is full: nothing was changed.'),
  'body.long': refused(413, 'Too long', 'The body is larger than is taken in.'),
  'body.type': refused(415, 'Not JSON', 'The body is not application/json, or is encoded.'),
  'state.unnamed': refused(
    428,
    'Say what you read',
    'A whole list would be written over; If-Match says which one was read.',
  ),
  'key.reused': refused(422, 'Key used before', 'The Idempotency-Key stands for another request.'),
  'watch.no-probe': refused(409, 'Nothing to look at', 'A check-in waits to hear.'),
  'watch.no-checkin': refused(409, 'No check-in', 'A probe has no check-in address.'),
  'watch.not-told': refused(
    409,
    'Nothing to take',
    'Nothing that is open is told of the watch, so that nobody can have it.',
  ),
  'link.over': refused(
    410,
    'The link is over',
    'A link in a message is about a trouble that is over, or is too old.',
  ),
  'delivery.waiting': refused(
    409,
    'Still on its way',
    'A message that still waits is sent by itself, and not once more by hand.',
  ),
  'channel.rests': refused(409, 'The channel rests', 'Nothing is sent to a channel that rests.'),
  'channel.in-use': refused(
    409,
    'It carries letters',
    'A channel by which a page writes to its followers cannot be disconnected.',
  ),
  'window.over': refused(409, 'It is over', 'Maintenance that is over cannot be moved.'),
  'window.waiting': refused(409, 'It has not begun', 'Maintenance that has not begun cannot be ended.'),
  'follow.busy': refused(429, 'Too many ask', 'Too many asked to follow a page of late.'),
  'drill.over': refused(409, 'It is over', 'A drill that is over cannot be ended.'),
  'work.too-long': refused(
    503,
    'Too much to work out',
    'What was asked for could not be worked out within its limits of time and memory.',
  ),
  'watch.paused': refused(409, 'Paused', 'A watch that is paused is not looked at.'),
  'desk.away': refused(
    503,
    'Desk away',
    'What answers the API is being started again, or has too much to do; a moment later it answers.',
  ),
  'engine.away': refused(503, 'Engine away', 'The engine is being started again.'),
  'own.fault': refused(500, 'Fault', 'Something went wrong here; it was noted in the log.'),
} satisfies Record<string, RefusalKind>;

export type RefusalCode = keyof typeof REFUSALS;

export function refusalKind(code: RefusalCode): RefusalKind {
  return REFUSALS[code];
}
