import fc from 'fast-check';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { CAUSES } from '@/core/causes/cause-catalogue';
import { CAUSE_CODES, causeSentence } from '@/core/causes/causes';
import { formatClock } from '@/core/time/clock-text';
import { crontabLine, shellLine } from '@/core/imports/crontab-line';
import { formatBytes, formatDuration, formatExactDuration, formatMs } from '@/core/time/duration';
import { runOf } from '@/core/reports/run-of';
import { knowWithinMs, knowWithinSentence } from '@/core/lifecycle/foresight';
import { composeMessage, messageAsPlainText } from '@/core/messages/message';
import { GIVE_UP_AFTER_MS, restMs, retryAfterMs, retryDelayMs, spread } from '@/core/messages/routing';
import { unseenText, watchSentence } from '@/core/history/state-text';
import { lengthTicks, timeTicks } from '@/ui/charts/time-ticks';
import { zoneOffsetMs } from '@/core/time/zone-time';
import { PROBE } from '../arbitraries';

const TESTS = ['tests/unit', 'tests/integration'].flatMap((folder) =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((file) => file.endsWith('.ts'))
    .map((file) => readFileSync(join(folder, file), 'utf8')),
);

describe('the catalogue of causes', () => {
  it.each(CAUSE_CODES)('%s is met in a test', (code) => {
    expect(TESTS.some((text) => text.includes(`'${code}'`))).toBe(true);
  });

  it.each(CAUSE_CODES)('%s has a sentence and advice of its own', (code) => {
    const { sentence, advice } = CAUSES[code];
    expect(sentence).toMatch(/^[A-Z“{].{10,}\.$/);
    expect(advice).toMatch(/^[A-Z].{10,}\.$/);
    const others = CAUSE_CODES.filter((c) => c !== code);
    expect(others.map((c) => CAUSES[c].sentence)).not.toContain(sentence);
  });

  it('holds every cause that the code names, and no other is used', () => {
    const root = join(import.meta.dirname, '../../../src');
    const files = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('.ts'));
    const used = new Set<string>();
    for (const file of files.filter((f) => !f.endsWith('causes.ts'))) {
      for (const match of readFileSync(join(root, file), 'utf8').matchAll(
        /cause(?:: |.*\? )'([a-z]+\.[a-z-]+)'/g,
      )) {
        used.add(match[1]!);
      }
    }
    expect(used.size).toBeGreaterThan(15);
    for (const code of used) expect(CAUSE_CODES).toContain(code);
  });

  it('fills sentences in, and shows what is missing as such', () => {
    expect(causeSentence('reply.status', { status: 503 })).toBe('The server answers, but replies 503.');
    expect(causeSentence('reply.status')).toBe('The server answers, but replies ….');
  });
});

describe('lengths of time', () => {
  it.each([
    [0, '0 s'],
    [400, 'under 1 s'],
    [59_999, '59 s'],
    [110_000, '1 min 50 s'],
    [3_600_000, '1 h'],
    [3_605_000, '1 h'],
    [90_000_000, '1 d 1 h'],
    [-5, '0 s'],
  ])('%d ms is %s', (ms, text) => {
    expect(formatDuration(ms)).toBe(text);
  });

  it('are exact where they have to be', () => {
    expect(formatExactDuration(3_723_400)).toBe('1 h 2 min 3 s');
    expect(formatExactDuration(86_400_000 + 1000)).toBe('1 d 1 s');
    expect(formatExactDuration(200)).toBe('0 s');
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 10 ** 9 }), (seconds) => {
        const sizes: Record<string, number> = { d: 86_400, h: 3600, min: 60, s: 1 };
        const parts = formatExactDuration(seconds * 1000).match(/\d+ \w+/g)!;
        const back = parts.reduce(
          (sum, part) => sum + Number(part.split(' ')[0]) * sizes[part.split(' ')[1]!]!,
          0,
        );
        expect(back).toBe(seconds);
      }),
    );
  });

  it('and sizes read well', () => {
    expect([4, 8.25, 142.4, 1240, 231_000].map(formatMs)).toEqual([
      '4 ms',
      '8.3 ms',
      '142 ms',
      '1.24 s',
      '3 min 51 s',
    ]);
    expect([512, 48_200, 1_250_000].map(formatBytes)).toEqual(['512 B', '48 kB', '1.3 MB']);
  });

  it('say how soon one would know', () => {
    expect(knowWithinSentence(PROBE)).toBe('You would know within 1 min 50 s.');
    expect(knowWithinMs({ ...PROBE, secondLooks: 0 })).toBe(70_000);
    const checkin = {
      type: 'checkin' as const,
      schedule: { type: 'period' as const, everyMs: 900_000 },
      leewayMs: 300_000,
      longestRunMs: null,
      zone: 'UTC',
    };
    expect(knowWithinSentence(checkin)).toBe('You would know within 20 min.');
    const nightly = {
      ...checkin,
      schedule: { type: 'cron' as const, expression: '30 2 * * *', zone: 'UTC' },
    };
    expect(knowWithinSentence(nightly)).toBe('You would know within 5 min of a due time.');
    expect(knowWithinSentence({ ...nightly, leewayMs: 0 })).toBe(
      'You would know as soon as a due time passes without a check-in.',
    );
  });
});

describe('messages', () => {
  const began = Date.parse('2026-11-24T08:59:00Z');
  const subject = { watchName: 'Booking site', link: 'http://desk.test/watches/1', zone: 'Europe/Lisbon' };

  it('say which watch, what is wrong, since when, what to try, and where to read on', () => {
    const message = composeMessage(
      { kind: 'down', began, noticed: began + 110_000, cause: 'reply.status', detail: { status: 503 } },
      subject,
    );
    expect(messageAsPlainText(message)).toBe(
      [
        'Booking site is down',
        'The server answers, but replies 503.',
        'Since Tue 24 Nov, 08:59 (Europe/Lisbon).',
        'Try this: It says itself that it cannot serve now: look at its load and its log, and at what it rests on.',
        'http://desk.test/watches/1',
      ].join('\n'),
    );
  });

  it('say the exact length when it is over', () => {
    const message = composeMessage({ kind: 'recovered', began, ended: began + 760_000 }, subject);
    expect(message.lines).toEqual([
      'It was down for 12 min 40 s, from Tue 24 Nov, 08:59 to Tue 24 Nov, 09:11 (Europe/Lisbon).',
    ]);
  });

  it('measure a run only when its beginning is known', () => {
    const done = { at: began, is: 'done' as const, code: 0, run: 'a' };
    expect(runOf(done, [])).toEqual({ at: began, fine: true, ms: null });
    expect(runOf({ ...done, is: 'failed', code: 2 }, [{ type: 'run-ended', at: began, ms: 40 }])).toEqual({
      at: began,
      fine: false,
      ms: 40,
    });
    expect(runOf({ ...done, is: 'begun' }, [])).toBeNull();
  });

  it('are tried again ever more slowly, but not for ever', () => {
    const delays = Array.from({ length: 15 }, (_, i) => retryDelayMs(i + 1));
    expect(delays.slice(0, 4)).toEqual([5000, 10_000, 20_000, 40_000]);
    expect(Math.max(...delays)).toBe(30 * 60_000);
    expect(delays.reduce((a, b) => a + b, 0)).toBeLessThan(GIVE_UP_AFTER_MS);
    expect(GIVE_UP_AFTER_MS).toBe(24 * 3_600_000);
  });

  it('leave a channel that fails alone, for five minutes at most', () => {
    expect([1, 2, 3, 20].map(restMs)).toEqual([5000, 10_000, 20_000, 300_000]);
  });

  it('that failed together are tried again apart', () => {
    expect([0, 0.5, 1].map((chance) => spread(10_000, chance))).toEqual([9000, 10_000, 11_000]);
  });

  it('wait as long as the other side asks, an hour at most', () => {
    const now = Date.parse('2026-11-26T06:00:00Z');
    const after = (header: string | null) => retryAfterMs(header, now);
    expect([after('120'), after(' 0 '), after('99999')]).toEqual([120_000, 0, 3_600_000]);
    expect(after('Thu, 26 Nov 2026 06:01:00 GMT')).toBe(60_000);
    expect(after('Thu, 26 Nov 2026 05:00:00 GMT')).toBe(0);
    expect([after(null), after(''), after('soon')]).toEqual([null, null, null]);
  });
});

describe('sentences', () => {
  it('lead a watch', () => {
    expect(watchSentence('Mail', 'up')).toEqual({ words: 'Mail is up, and has been for ', hasLength: true });
    expect(watchSentence('Mail', 'slow', true).words).toBe('Mail wants a hand, and has for ');
    expect(watchSentence('Mail', 'waiting')).toEqual({
      words: 'Mail is waiting for its first news.',
      hasLength: false,
    });
  });
});

describe('times of day', () => {
  it('are said in the zone asked for', () => {
    const at = Date.parse('2026-07-01T23:30:00Z');
    expect(formatClock(at, 'Europe/Lisbon')).toBe('Thu 2 Jul, 00:30');
    expect(formatClock(at, '')).toBe('Wed 1 Jul, 23:30');
  });

  it('know how far a zone is from UTC, across a change', () => {
    expect(zoneOffsetMs(Date.parse('2026-10-25T00:59:59Z'), 'Europe/Lisbon')).toBe(3_600_000);
    expect(zoneOffsetMs(Date.parse('2026-10-25T01:00:00Z'), 'Europe/Lisbon')).toBe(0);
    expect(zoneOffsetMs(0, 'Asia/Kolkata')).toBe(5.5 * 3_600_000);
  });

  it('tick at round moments of the wall clock', () => {
    const day = { from: Date.parse('2026-11-23T09:10:00Z'), to: Date.parse('2026-11-24T09:10:00Z') };
    expect(timeTicks(day, 'Asia/Kolkata', 9).map((t) => t.label)).toEqual([
      '15:00',
      '18:00',
      '21:00',
      '00:00',
      '03:00',
      '06:00',
      '09:00',
      '12:00',
    ]);
    const week = { from: Date.parse('2026-10-22T12:00:00Z'), to: Date.parse('2026-10-29T12:00:00Z') };
    const midnights = timeTicks(week, 'Europe/Lisbon', 9).map((t) =>
      new Date(t.at).toISOString().slice(0, 16),
    );
    expect(midnights.slice(0, 4)).toEqual([
      '2026-10-22T23:00',
      '2026-10-23T23:00',
      '2026-10-24T23:00',
      '2026-10-26T00:00',
    ]);
  });
});

describe('time that nobody saw', () => {
  it('is said beside the length of a state, unless it is next to nothing or lies before it', () => {
    const gap = (from: number, to: number) => ({ from, to, kind: 'unobserved' as const });
    const up = { from: 0, to: 10 * 3_600_000, kind: 'up' as const };
    const now = 10 * 3_600_000;
    expect(unseenText([up, gap(3_600_000, 9_000_000)], 0, now)).toBe(
      'Not observed for 1 h 30 min of that time.',
    );
    expect(unseenText([up, gap(3_600_000, 9_000_000)], 5_400_000, now)).toBe(
      'Not observed for 1 h of that time.',
    );
    expect(unseenText([up, gap(0, 59_000)], 0, now)).toBe('');
    expect(unseenText([up, gap(0, 3_600_000)], 3_600_000, now)).toBe('');
  });
});

describe('the marks of a chart of lengths', () => {
  it.each([
    [870, ['0 ms', '200 ms', '400 ms', '600 ms', '800 ms', '1.00 s']],
    [58_000, ['0 ms', '15 s', '30 s', '45 s', '1 min']],
    [370_000, ['0 ms', '2 min', '4 min', '6 min', '8 min']],
    [26 * 60_000, ['0 ms', '10 min', '20 min', '30 min']],
    [200 * 86_400_000, ['0 ms', '40 d', '80 d', '120 d', '160 d', '200 d']],
  ])('up to %d ms stand at round times', (most, expected) => {
    const ticks = lengthTicks(most, 5);
    expect(ticks.at(-1)).toBeGreaterThanOrEqual(most);
    expect(ticks.map(formatMs)).toEqual(expected);
  });
});

describe('lines ready to paste', () => {
  it('escape what a crontab would read as a new line', () => {
    const line = crontabLine('30 2 * * *', 'http://desk.test/in/key');
    expect(line.startsWith('30 2 * * * ')).toBe(true);
    expect(line).not.toMatch(/(?<!\\)%/);
    expect(shellLine('http://desk.test/in/key')).toContain('"http://desk.test/in/key?code=$?"');
  });
});
