import { describe, expect, it } from 'vitest';
import { messageInWords } from '@/core/messages/kept-message';
import type { SaidEvent, SaidItem } from '@/core/messages/said';
import { causeAdvice, causeSentence } from '@/core/causes/causes';

const T0 = Date.parse('2026-11-26T08:05:07Z');
const MINUTE = 60_000;
const refused = { cause: 'port.refused', detail: { port: 443 } } as const;
const down = { kind: 'down', began: T0, noticed: T0, ...refused } as const;
const said = (event: SaidEvent, watchName = 'Booking site') =>
  messageInWords({ event, watchName }, 7, { linkBase: 'https://watch.ternferry.test', zone: 'UTC' });
const item = (name: string, rest: Partial<SaidItem> = {}): SaidItem => ({
  watchId: 1,
  name,
  event: down,
  over: null,
  ...rest,
});

describe('what is said beside what happened', () => {
  it('is that it is still down, for how long, why, and what to try', () => {
    const still = { kind: 'still-down', began: T0, at: T0 + 65 * MINUTE, times: 1, down } as const;
    expect(said(still)).toEqual({
      title: 'Booking site is still down',
      lines: [
        'For 1 h 5 min now, since Thu 26 Nov, 08:05 (UTC).',
        causeSentence('port.refused', { port: 443 }),
        `Try this: ${causeAdvice('port.refused', { port: 443 })}`,
      ],
      link: 'https://watch.ternferry.test/watches/7',
    });
    const line = { kind: 'line', began: T0, ended: null } as const;
    expect(said({ ...still, down: line }).title).toBe('Still: Calm Lantern cannot reach out');
  });

  it('is how many more are down, the first of them by name', () => {
    const several = (count: number, because: 'burst' | 'hours' = 'burst') =>
      said({ kind: 'several', because, items: Array.from({ length: count }, (_, i) => item(`Kiosk ${i}`)) });
    expect(several(2)).toMatchObject({ title: 'Two more are down' });
    expect(several(1)).toMatchObject({ title: 'One more is down' });
    expect(several(2).lines).toEqual([
      `Kiosk 0, since Thu 26 Nov, 08:05: ${causeSentence('port.refused', { port: 443 })}`,
      `Kiosk 1, since Thu 26 Nov, 08:05: ${causeSentence('port.refused', { port: 443 })}`,
      'Times are those of UTC.',
    ]);
    expect(several(195).title).toBe('195 more are down');
    expect(several(195).lines).toHaveLength(22);
    expect(several(195).lines[20]).toBe('And 175 more.');
    expect(several(20).lines).toHaveLength(21);
    expect(several(3, 'hours').title).toBe('Three troubles outside the hours');
    expect(several(1, 'hours').title).toBe('One trouble outside the hours');
  });

  it('is what came and went, with its length', () => {
    const over = { kind: 'recovered', began: T0, ended: T0 + 33_000 } as const;
    const closed = { kind: 'closed', began: T0, at: T0, because: 'paused' } as const;
    const warned = { kind: 'warned', at: T0, cause: 'tls.expires-soon', detail: { left: '9 days' } } as const;
    const message = said({
      kind: 'several',
      because: 'burst',
      items: [
        item('Kiosk 1', { over }),
        item('Kiosk 2', { over: closed }),
        item('Kiosk 3', { event: warned }),
      ],
    });
    expect(message.title).toBe('Three more troubles');
    expect(message.lines.slice(0, 3)).toEqual([
      'Kiosk 1 was down for 33 s, from Thu 26 Nov, 08:05:07 to Thu 26 Nov, 08:05:40.',
      'Kiosk 2 was paused while down.',
      `Kiosk 3 wants a hand: ${causeSentence('tls.expires-soon', { left: '9 days' })}`,
    ]);
    const back = said({ kind: 'several-over', items: [item('Kiosk 1', { over })] });
    expect(back).toMatchObject({
      title: 'One more is up again',
      lines: [expect.stringContaining('for 33 s')],
    });
    expect(said({ kind: 'several-over', items: [item('A', { over }), item('B', { over })] }).title).toBe(
      'Two more are up again',
    );
  });

  it('is what follows from it', () => {
    const also = (count: number) =>
      said({
        kind: 'also',
        items: Array.from({ length: count }, (_, i) => ({ watchId: i, name: `Kiosk ${i}` })),
      });
    expect(also(1)).toMatchObject({
      title: 'One more is down with Booking site',
      lines: ['Kiosk 0 rests on it, and is not told one by one.'],
    });
    expect(also(2)).toMatchObject({
      title: 'Two more are down with Booking site',
      lines: ['Kiosk 0 and Kiosk 1 rest on it, and are not told one by one.'],
    });
    expect(also(23).lines[0]).toContain('Kiosk 19 and three more rest on it');
    expect(also(20).lines[0]).toContain('Kiosk 18 and Kiosk 19 rest on it');
  });

  it('is that it cannot make up its mind, and that it can again', () => {
    expect(said({ kind: 'unsteady', turns: 6, withinMs: 9 * MINUTE })).toMatchObject({
      title: 'Booking site keeps going down and up',
      lines: ['It turned six times within 9 min.', 'You hear of it again when it stands still.'],
    });
    expect(said({ kind: 'steady', since: T0 })).toMatchObject({
      title: 'Booking site stands still again',
      lines: ['It has been up since Thu 26 Nov, 08:05 (UTC).'],
    });
  });

  it('is who has it, until when, and that nobody has it any more', () => {
    expect(said({ kind: 'taken', by: 'Ines', until: null })).toMatchObject({
      title: 'Ines has Booking site',
      lines: ['Reminders and further steps rest.'],
    });
    expect(said({ kind: 'taken', by: 'Ines', until: T0 }).lines).toEqual([
      'Reminders and further steps rest until Thu 26 Nov, 08:05 (UTC).',
    ]);
    expect(said({ kind: 'given-back', by: 'Ines' })).toMatchObject({
      title: 'Ines gave Booking site back',
      lines: ['Reminders and further steps go on.'],
    });
    expect(said({ kind: 'given-back', by: null }).title).toBe('Nobody has Booking site any more');
  });

  it('is that nobody looks any more', () => {
    const closed = (because: 'paused' | 'deleted') => said({ kind: 'closed', began: T0, at: T0, because });
    expect(closed('paused')).toMatchObject({
      title: 'Booking site was paused while down',
      lines: ['It was down since Thu 26 Nov, 08:05 (UTC); nobody looks any more.'],
    });
    expect(closed('deleted').title).toBe('Booking site was deleted while down');
  });
});
