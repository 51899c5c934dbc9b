import { describe, expect, it } from 'vitest';
import { messageInWords, type KeptMessage } from '@/core/messages/kept-message';
import { messageAsPlainText, type MessageEvent } from '@/core/messages/message';
import { causeAdvice, causeSentence } from '@/core/causes/causes';

const PLACE = { linkBase: 'https://watch.ternferry.test', zone: 'UTC' };
const BEGAN = Date.parse('2026-11-26T08:05:07Z');
const NOTICED = BEGAN + 20_000;

function said(event: MessageEvent, rest: Partial<KeptMessage> = {}, watchId: number | null = 7) {
  return messageInWords({ event, watchName: 'Booking site', ...rest }, watchId, PLACE);
}

const refused = { cause: 'port.refused', detail: { port: 443 } } as const;
const down = { kind: 'down', began: BEGAN, noticed: NOTICED, ...refused } as const;

describe('a message, put into words when it is handed over', () => {
  it('says what is down, why, since when, what to try, and where to read on', () => {
    expect(said(down)).toEqual({
      title: 'Booking site is down',
      lines: [
        causeSentence('port.refused', { port: 443 }),
        'Since Thu 26 Nov, 08:05 (UTC).',
        `Try this: ${causeAdvice('port.refused', { port: 443 })}`,
      ],
      link: 'https://watch.ternferry.test/watches/7',
    });
  });

  it('says what somebody has written down for that moment, and no more of it than a room bears', () => {
    const runbook = {
      link: 'https://wiki.ternferry.test/booking',
      note: 'Ring Ines.\n\n  Then the kiosk.  ',
    };
    const own = ['Ring Ines.', 'Then the kiosk.', 'Runbook: https://wiki.ternferry.test/booking'];
    expect(said(down, { runbook }).lines.slice(3)).toEqual(own);
    const warned = { kind: 'warned', at: NOTICED, ...refused } as const;
    expect(said(warned, { runbook }).lines.slice(-3)).toEqual(own);
    const still = { kind: 'still-down', began: BEGAN, at: NOTICED + 60_000, times: 1, down } as const;
    expect(said(still as never, { runbook }).lines.slice(3)).toEqual(own);
    expect(said({ kind: 'recovered', began: BEGAN, ended: NOTICED }, { runbook }).lines).toHaveLength(1);
    const long = Array.from({ length: 30 }, (_, i) => `step ${i + 1}`).join('\n');
    expect(said(down, { runbook: { link: '', note: long } }).lines.slice(3)).toEqual([
      ...Array.from({ length: 8 }, (_, i) => `step ${i + 1}`),
      '…',
    ]);
  });

  it('says what still held, where the way there was walked', () => {
    const walk = [
      { rung: 'host', label: 'host', result: 'fine' },
      { rung: 'port', label: 'port 443', result: 'fine' },
      { rung: 'reply', label: 'reply', result: 'failed' },
    ] as const;
    const late = { ...down, cause: 'reply.timeout', detail: { limit: '10 s' } } as const;
    expect(said(late, { walk }).lines[0]).toBe(
      'The host answers ping and port 443 is open; connected, but no reply within 10 s.',
    );
    expect(said(late).lines[0]).not.toContain('answers ping');
  });

  it('says how long it was down, exact to the second where that tells more', () => {
    expect(said({ kind: 'recovered', began: BEGAN, ended: BEGAN + 33_000 })).toEqual({
      title: 'Booking site is up again',
      lines: ['It was down for 33 s, from Thu 26 Nov, 08:05:07 to Thu 26 Nov, 08:05:40 (UTC).'],
      link: 'https://watch.ternferry.test/watches/7',
    });
    expect(said({ kind: 'recovered', began: BEGAN, ended: BEGAN + 3_600_000 }).lines).toEqual([
      'It was down for 1 h, from Thu 26 Nov, 08:05 to Thu 26 Nov, 09:05 (UTC).',
    ]);
  });

  it('says what wants a hand without being down', () => {
    const detail = { left: '9 days' };
    expect(said({ kind: 'warned', at: BEGAN, cause: 'tls.expires-soon', detail })).toEqual({
      title: 'Booking site wants a hand',
      lines: [
        causeSentence('tls.expires-soon', detail),
        `Try this: ${causeAdvice('tls.expires-soon', detail)}`,
      ],
      link: 'https://watch.ternferry.test/watches/7',
    });
  });

  it('says that this machine cannot reach out, and from when to when it could not', () => {
    const line = (ended: number | null) =>
      said({ kind: 'line', began: BEGAN, ended }, { watchName: '' }, null);
    expect(line(null)).toEqual({
      title: 'Calm Lantern cannot reach out',
      lines: [
        'None of the addresses of its own line answers since Thu 26 Nov, 08:05 (UTC).',
        'Nothing is concluded about what could not be looked at; that time stands as not observed.',
      ],
      link: 'https://watch.ternferry.test',
    });
    expect(line(BEGAN + 600_000).title).toBe('Calm Lantern can reach out again');
    expect(line(BEGAN + 600_000).lines[0]).toBe(
      'None of the addresses of its own line answered from Thu 26 Nov, 08:05 to Thu 26 Nov, 08:15 (UTC).',
    );
  });

  it('says which job reported by itself, and from where', () => {
    const event = { kind: 'new-checkin', section: 'Office server', address: '192.0.2.7' } as const;
    expect(said(event)).toEqual({
      title: 'Booking site reported for the first time',
      lines: [
        'A check-in was made for it in the section Office server; it came from 192.0.2.7.',
        'Say when it is expected, so that you hear when it stays away.',
      ],
      link: 'https://watch.ternferry.test/watches/7',
    });
  });

  it('says what is wrong with Calm Lantern itself, and that it is over', () => {
    const own = (ended: number | null) =>
      said(
        { kind: 'own', code: 'disk.full', detail: { left: '1 MB', folder: '/srv' }, began: BEGAN, ended },
        {},
        null,
      );
    expect(own(null)).toMatchObject({ title: 'Calm Lantern itself wants a hand', link: PLACE.linkBase });
    expect(own(null).lines).toEqual([
      expect.stringContaining('1 MB left'),
      'Since Thu 26 Nov, 08:05 (UTC).',
      expect.stringMatching(/^Try this: .*\/srv/),
    ]);
    expect(own(BEGAN + 1000)).toMatchObject({ title: 'Calm Lantern itself is well again' });
    expect(own(BEGAN + 1000).lines).toHaveLength(1);
  });

  it('is a test that says so', () => {
    expect(messageAsPlainText(said({ kind: 'test' }, {}, null))).toBe(
      'A test from Calm Lantern\nIf you can read this, messages reach you here.\nhttps://watch.ternferry.test',
    );
  });
});
