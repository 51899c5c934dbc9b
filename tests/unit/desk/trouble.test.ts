import { describe, expect, it } from 'vitest';
import { causeSentence } from '@/core/causes/causes';
import type { State } from '@/core/lifecycle/state';
import { newStatus, type Status } from '@/core/lifecycle/status';
import type { WatchWithStatus } from '@/store/watches/watches';
import { isSilent, needsHand } from '@/core/lifecycle/wants-hand';
import { troubleOf } from '@/views/troubles/trouble';
import { probeConfig } from '../../integration/helpers';

const MADE = Date.parse('2026-11-20T12:00:00Z');
const HOUR = 3_600_000;

function job(rest: Partial<WatchWithStatus> = {}): WatchWithStatus {
  const config = {
    type: 'checkin',
    schedule: { type: 'cron', expression: '30 2 * * *', zone: 'Europe/Lisbon' },
    leeway: 1800,
    longestRun: null,
  } as const;
  return { config, status: newStatus(MADE), createdAt: MADE, lastFinding: null, ...rest } as WatchWithStatus;
}

describe('a job that was never heard of', () => {
  const deadline = Date.parse('2026-11-21T03:00:00Z');

  it('wants a hand once it was due for the first time, leeway and all', () => {
    expect(isSilent(job(), deadline)).toBe(false);
    expect(needsHand(job(), deadline)).toBe(false);
    expect(isSilent(job(), deadline + 1)).toBe(true);
    expect(needsHand(job(), deadline + 1)).toBe(true);
  });

  it('says by when it was expected, and what to try', () => {
    const sentence = causeSentence('checkin.never', { deadline: 'Sat 21 Nov, 03:00' });
    expect(sentence).toBe('Expected by Sat 21 Nov, 03:00, but no check-in has ever come.');
    expect(troubleOf(job(), undefined, undefined, 'UTC')).toMatchObject({
      sentence,
      advice: expect.stringContaining('run it once by hand'),
      ladder: [],
    });
  });

  it('wants none when it was heard of, when it is paused, and when nothing is ever due', () => {
    const at = deadline + 10 * HOUR;
    expect(isSilent(job({ status: { ...newStatus(MADE), lastAt: MADE + 5 } }), at)).toBe(false);
    expect(isSilent(job({ status: { ...newStatus(MADE), state: 'paused' } }), at)).toBe(false);
    const never = { ...job().config, schedule: { type: 'cron', expression: '0 0 30 2 *', zone: 'UTC' } };
    expect(isSilent(job({ config: never as WatchWithStatus['config'] }), at)).toBe(false);
  });

  it('is told apart from one that was heard of before', () => {
    const late = { ...newStatus(MADE), state: 'overdue' as const, lastAt: MADE, due: deadline - HOUR / 2 };
    expect(troubleOf(job({ status: late }), undefined, undefined, 'UTC').sentence).toBe(
      'Expected at Sat 21 Nov, 02:30; counts as missed after Sat 21 Nov, 03:00.',
    );
  });
});

describe('what wants a hand', () => {
  const now = MADE + 10 * HOUR;
  const lately = (minutes: number) => now - minutes * 60_000;
  const as = (state: State, rest: Partial<Status> = {}) => ({ ...newStatus(MADE), state, ...rest });
  const probe = (status: Partial<Status>, lastFinding: object | null = null) =>
    ({
      ...job(),
      config: probeConfig({}),
      status: { ...newStatus(MADE), ...status },
      lastFinding,
    }) as WatchWithStatus;

  it('is a late job once half its leeway is over, or ten minutes', () => {
    const late = (since: number, leeway: number) =>
      needsHand(
        job({ status: as('overdue', { since, lastAt: 1 }), config: { ...job().config, leeway } as never }),
        now,
      );
    expect(late(lately(10), 3600)).toBe(false);
    expect(late(lately(10) - 1, 3600)).toBe(true);
    expect(late(lately(2), 240)).toBe(false);
    expect(late(lately(2) - 1, 240)).toBe(true);
    expect(late(lately(1), 240)).toBe(false);
  });

  it('is what is down or doubtful, what passed a limit of its own, and what cannot be looked at', () => {
    const wants = (status: Partial<Status>, cause?: string) =>
      needsHand(probe(status, cause === undefined ? null : { cause, verdict: 'failed' }), now);
    expect(wants({ state: 'down' })).toBe(true);
    expect(wants({ state: 'doubtful' })).toBe(true);
    expect(wants({ state: 'up' })).toBe(false);
    expect(wants({ state: 'slow' })).toBe(false);
    expect(wants({ state: 'slow', warned: 'tls.expires-soon' })).toBe(true);
    expect(wants({ state: 'up', warned: 'tls.expires-soon' })).toBe(false);
    expect(wants({ state: 'up' }, 'look.broken')).toBe(true);
    expect(wants({ state: 'up' }, 'port.refused')).toBe(false);
    // That the line was away is told by itself, and no fault of the watch.
    expect(wants({ state: 'up' }, 'look.no-line')).toBe(false);
    for (const state of ['paused', 'maintenance'] as const)
      expect(wants({ state, warned: 'tls.expires-soon' }, 'look.broken')).toBe(false);
    // A probe is never late, and never silent.
    expect(wants({ state: 'overdue', since: 0 })).toBe(false);
    expect(isSilent(probe({ state: 'waiting' }), now)).toBe(false);
  });
});

describe('what a watch in trouble says', () => {
  const rung = (result: 'fine' | 'failed') => ({ rung: 'port', label: 'port 443', result }) as const;
  const detail = { port: 443 };
  const [seen, first, told] = [
    { ladder: [rung('failed')] },
    { walk: [rung('fine')] },
    { walk: [rung('failed')] },
  ];
  const refused = { cause: 'port.refused', verdict: 'failed', detail, evidence: seen };
  const outage = (cause: string) => ({ cause, detail: { port: 22 }, evidence: told }) as never;
  const said = (lastFinding: object | null, open?: never, kept?: object, config: object = probeConfig({})) =>
    troubleOf(
      job({ config: config as never, lastFinding: lastFinding as never }),
      open,
      kept as never,
      'UTC',
    );

  it('comes from its last look, with what was seen when it first failed this way', () => {
    expect(said(refused)).toMatchObject({
      sentence: causeSentence('port.refused', detail),
      evidence: seen,
      ladder: seen.ladder,
    });
    expect(said(refused, undefined, { cause: 'port.refused', evidence: first })).toMatchObject({
      evidence: first,
      ladder: first.walk,
    });
    expect(said(refused, undefined, { cause: 'port.timeout', evidence: first }).evidence).toBe(seen);
    expect(said(refused, outage('port.refused')).evidence).toBe(told);
    expect(said(refused, outage('port.timeout')).evidence).toBe(seen);
    expect(said(refused, outage('port.refused'), { cause: 'port.refused', evidence: first }).evidence).toBe(
      first,
    );
    expect(said({ ...refused, evidence: undefined })).toMatchObject({ evidence: null, ladder: [] });
  });

  it('comes from its outage where no look says more, and from the limit it passed', () => {
    expect(said({ verdict: 'fine' }, outage('port.refused'))).toMatchObject({
      evidence: told,
      ladder: told.walk,
    });
    expect(said(null, outage('port.refused')).sentence).toContain('22');
    // What a job's last report says is no look.
    expect(said(refused, outage('checkin.missed'), undefined, job().config).evidence).toBe(told);
    const warned = { ...newStatus(MADE), state: 'slow' as const, warned: 'tls.expires-soon' as const };
    const soon = (status: Status) => troubleOf(job({ status }), undefined, undefined, 'UTC').sentence;
    expect(soon({ ...warned, warnedDetail: { left: '9 d' } })).toBe(
      causeSentence('tls.expires-soon', { left: '9 d' }),
    );
    expect(soon(warned)).toBe(causeSentence('tls.expires-soon', {}));
    expect(soon({ ...warned, state: 'up' })).toContain('no check-in has ever come');
  });

  it('names times in the zone of the schedule, or of the desk where that has none', () => {
    const overdue = { ...newStatus(MADE), state: 'overdue' as const, lastAt: MADE, due: MADE + HOUR };
    const period = { ...job().config, schedule: { type: 'period', every: 3600 } };
    const late = (config: object) =>
      troubleOf(job({ status: overdue, config: config as never }), undefined, undefined, 'Asia/Tokyo');
    expect(late(period).sentence).toBe(
      'Expected at Fri 20 Nov, 22:00; counts as missed after Fri 20 Nov, 22:30.',
    );
    expect(late(job().config).sentence).toBe(
      'Expected at Fri 20 Nov, 13:00; counts as missed after Fri 20 Nov, 13:30.',
    );
    expect(late(period)).toMatchObject({
      advice: 'It may only be late. Look whether the job is running.',
      ladder: [],
      evidence: null,
    });
    const waiting = troubleOf(job({ config: period as never }), undefined, undefined, 'Asia/Tokyo');
    expect(waiting.sentence).toContain('Fri 20 Nov, 22:30');
    const never = { ...job().config, schedule: { type: 'cron', expression: '0 0 30 2 *', zone: 'UTC' } };
    expect(troubleOf(job({ config: never as never }), undefined, undefined, 'UTC').sentence).toContain(
      'Fri 20 Nov, 12:00',
    );
    expect(
      troubleOf(
        job({ config: period as never, status: { ...overdue, due: null } }),
        undefined,
        undefined,
        'UTC',
      ).sentence,
    ).toContain('ever come');
  });
});
