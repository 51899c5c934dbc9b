import type { Outgoing } from './kind';

/** What is said as an event (CloudEvents 1.0, JSON format). */
export function cloudEventOf(message: Outgoing): Record<string, unknown> {
  const { id, at, event, watch, conversation, title, lines, link, drill } = message;
  return {
    specversion: '1.0',
    id,
    source: new URL('/', link).href,
    type: `lantern.${event?.kind ?? 'message'}`,
    time: new Date(at).toISOString(),
    ...(watch && { subject: `watches/${watch.id}` }),
    // An extension attribute: its name is in small letters.
    ...(drill && { drill: true }),
    datacontenttype: 'application/json',
    data: { title, lines, link, conversation, watch, event },
  };
}
