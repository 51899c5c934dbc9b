import type { AroundLine, Outgoing } from '@/channels/frame/kind';

/** A message on its way, as channels get it. */
export function outgoing(rest: Partial<Outgoing> = {}): Outgoing {
  const began = Date.parse('2026-11-26T08:00:00Z');
  return {
    id: '1795680000000.7',
    conversation: 'w3.1795680000000',
    event: { kind: 'down', began, noticed: began, cause: 'port.refused', detail: { port: 443 } },
    at: began,
    watch: { id: 3, name: 'Booking site' },
    follows: null,
    first: null,
    take: null,
    answer: null,
    drill: false,
    language: 'en',
    title: 'Booking site is down',
    lines: ['Nothing listens on port 443.', 'Since Thu 26 Nov, 08:00 (UTC).'],
    link: 'https://watch.ternferry.test/watches/3',
    ...rest,
  };
}

/** Of a line nobody wants to know anything of. */
export const UNHEARD: AroundLine = { onOpen: () => undefined, onHeard: () => undefined };
