import { describe, expect, it } from 'vitest';
import { speechOf } from '@/core/languages/speech';
import { belongsTo, likelyCauses, type Told } from '@/core/messages/likely-cause';

const T0 = Date.parse('2026-11-26T08:00:00Z');
const MIN = 60_000;
const NOTHING = { port: null, resolver: null, address: null, certificate: null, carries: false };

function told(
  watchId: number,
  rest: { began?: number; host?: string; hostAnswers?: boolean | null } = {},
): Told {
  const { began = T0, host = 'pier.ternferry.test', hostAnswers = null } = rest;
  const shares = { ...NOTHING, host, hostAnswers };
  const event = {
    kind: 'down' as const,
    began,
    noticed: began,
    cause: 'port.refused' as const,
    detail: {},
    shares,
  };
  return { watchId, name: `Kiosk ${watchId}`, event };
}
const ENGLISH = speechOf('en');

describe('troubles that are told', () => {
  it('belong to those on the same host that began within five minutes', () => {
    expect(belongsTo(told(2), [told(1)])).toBe(true);
    expect(belongsTo(told(2, { began: T0 + 5 * MIN }), [told(1)])).toBe(true);
    expect(belongsTo(told(2, { began: T0 + 5 * MIN + 1 }), [told(1)])).toBe(false);
    expect(belongsTo(told(2, { host: 'office.ternferry.test' }), [told(1)])).toBe(false);
    expect(belongsTo(told(2), [])).toBe(false);
  });

  it('are measured from each by itself, not from the first of a row', () => {
    const row = [told(1), told(2, { began: T0 + 4 * MIN })];
    expect(belongsTo(told(3, { began: T0 + 8 * MIN }), row)).toBe(true);
  });

  it('belong to none of hours ago, whatever else went down meanwhile', () => {
    const row = Array.from({ length: 6 }, (_, i) => told(i + 1, { began: T0 + i * 4 * MIN }));
    expect(belongsTo(told(9, { began: T0 + 60 * MIN }), row)).toBe(false);
  });

  it('share nothing where that is not known, or where they are no outages', () => {
    const plain: Told = { watchId: 2, name: 'Old', event: { ...told(2).event, shares: undefined } as never };
    const warned: Told = {
      watchId: 3,
      name: 'Mail',
      event: { kind: 'warned', at: T0, cause: 'tls.expires-soon', detail: {} },
    };
    for (const one of [plain, warned, { ...told(4), watchId: null }]) {
      expect(belongsTo(one, [told(1)])).toBe(false);
      expect(belongsTo(told(1), [one])).toBe(false);
    }
  });

  it('name what they share, and no more than is known', () => {
    const silent = [told(1, { hostAnswers: false }), told(2, { hostAnswers: false })];
    expect(likelyCauses(silent, [], ENGLISH)[0]).toBe('Two watches on pier.ternferry.test failed at once.');
    const alive = [told(1, { hostAnswers: true }), told(2)];
    expect(likelyCauses(alive, [], ENGLISH)[0]).toBe(
      'Two watches on pier.ternferry.test failed at once; the host is alive, but several of its services fail.',
    );
  });

  it('are named with those told before, and those alone are not named again', () => {
    const [line] = likelyCauses([told(3)], [told(1), told(2)], ENGLISH);
    expect(line).toMatch(/^Three watches/);
    expect(likelyCauses([told(3, { host: 'office.ternferry.test' })], [told(1), told(2)], ENGLISH)).toEqual(
      [],
    );
  });
});
