import { describe, expect, it } from 'vitest';
import type { StatusEvent } from '@/core/lifecycle/status';
import { happeningsOf, threadOf } from '@/core/telling/happen';
import { watchOf } from './telling-on';

const AT = Date.parse('2026-11-23T12:00:00Z');
const WATCH = watchOf(7);
const SLOW = { ms: 2400, limitMs: 1000 };
const slowNow: StatusEvent = { type: 'state', from: 'up', since: AT - 60_000, to: 'slow', at: AT };
const warned: StatusEvent = { type: 'warned', at: AT, cause: 'tls.expires-soon', detail: { left: '9 d' } };
const began = (withheld?: { follows: number | null }): StatusEvent => ({
  type: 'outage-began',
  began: AT - 60_000,
  noticed: AT,
  cause: 'port.refused',
  detail: { port: 443 },
  ...(withheld && { withheld }),
});
const ended: StatusEvent = { type: 'outage-ended', began: AT - 60_000, ended: AT };

const told = (events: StatusEvent[], around: Partial<Parameters<typeof happeningsOf>[2]> = {}) =>
  happeningsOf(WATCH, events, { paused: false, at: AT, ...around });
const kinds = (...given: Parameters<typeof told>) =>
  told(...given).map((one) => [one.thread, one.phase, 'event' in one ? one.event.kind : null]);

describe('what of a decision is told', () => {
  it('is an outage, with the layers that were walked', () => {
    const walk = [{ rung: 'host' as const, label: 'host', result: 'fine' as const }];
    expect(told([began()], { walk })).toEqual([
      {
        thread: threadOf(7),
        phase: 'opens',
        watch: WATCH,
        event: {
          kind: 'down',
          began: AT - 60_000,
          noticed: AT,
          cause: 'port.refused',
          detail: { port: 443 },
          walk,
        },
      },
    ]);
    expect(told([began()])[0]).not.toHaveProperty('event.walk');
  });

  it('is with another watch’s outage, where it follows from that, at once or as it turns out', () => {
    expect(kinds([began({ follows: 3 })])).toEqual([[threadOf(3), 'joins', null]]);
    expect(kinds([{ type: 'outage-follows', of: 3 }])).toEqual([[threadOf(3), 'joins', null]]);
    // In planned time it is held back, and follows from nothing.
    expect(kinds([began({ follows: null })])).toEqual([]);
    const { type: _, ...rest } = began() as Extract<StatusEvent, { type: 'outage-began' }>;
    expect(kinds([{ ...rest, type: 'outage-announced' }])).toEqual([[threadOf(7), 'opens', 'down']]);
  });

  it('is its end: over, or that nobody looks any more; not that of what was held back', () => {
    expect(kinds([ended])).toEqual([[threadOf(7), 'closes', 'recovered']]);
    expect(told([ended], { paused: true })[0]).toMatchObject({
      phase: 'closes',
      event: { kind: 'closed', began: AT - 60_000, at: AT, because: 'paused' },
    });
    expect(kinds([{ ...ended, withheld: true }])).toEqual([]);
  });

  it('is that it became slow, with its figures', () => {
    expect(told([slowNow], { slow: SLOW })).toEqual([
      {
        thread: threadOf(7),
        phase: 'once',
        watch: WATCH,
        event: { kind: 'slow', began: AT - 60_000, at: AT, ms: 2400, limitMs: 1000 },
      },
    ]);
  });

  it('is no slowness without figures, of another state, or beside a limit of its own that is passed', () => {
    expect(kinds([slowNow])).toEqual([]);
    expect(kinds([{ ...slowNow, from: 'slow', to: 'up' }], { slow: SLOW })).toEqual([]);
    expect(kinds([{ type: 'run-ended', at: AT, ms: 5 }], { slow: SLOW })).toEqual([]);
    expect(kinds([slowNow, warned], { slow: SLOW })).toEqual([[threadOf(7), 'once', 'warned']]);
    expect(kinds([ended, slowNow], { slow: SLOW })).toEqual([
      [threadOf(7), 'closes', 'recovered'],
      [threadOf(7), 'once', 'slow'],
    ]);
  });

  it('is that it wants a hand, unless it is down all the same', () => {
    expect(told([warned])).toEqual([
      {
        thread: threadOf(7),
        phase: 'once',
        watch: WATCH,
        event: { kind: 'warned', at: AT, cause: 'tls.expires-soon', detail: { left: '9 d' } },
      },
    ]);
    expect(kinds([began(), warned])).toEqual([[threadOf(7), 'opens', 'down']]);
    expect(kinds([ended, warned])).toEqual([
      [threadOf(7), 'closes', 'recovered'],
      [threadOf(7), 'once', 'warned'],
    ]);
  });
});
