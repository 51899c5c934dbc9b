import { describe, expect, it } from 'vitest';
import { NO_WATCHES } from '@/core/telling/route';
import { Desk, down, HOUR, MINUTE, routeOf, setupOf, T0, watchOf } from './telling-on';

const [FIRST, SECOND] = [watchOf(1), watchOf(2)];
const only = (...ids: number[]) => ({ all: false, ...NO_WATCHES, ids, except: NO_WATCHES });
/** Hours of every day that open at a time; it is noon now. */
const opening = (from: string, outside: 'hold' | 'urgent' = 'hold') => ({
  zone: 'UTC',
  spans: [{ days: [1, 2, 3, 4, 5, 6, 7], from, until: '18:00' }],
  daysOff: [],
  outside,
});

describe('what waits for hours', () => {
  it('is told as each of them opens, and what waits for later ones goes on waiting', () => {
    const desk = new Desk(
      setupOf(
        routeOf({ id: 1, watches: only(1), hours: opening('13:00') }),
        routeOf({ id: 2, watches: only(2), hours: opening('14:00') }),
      ),
    );
    desk
      .down(FIRST)
      .to(5 * MINUTE)
      .down(SECOND);
    expect(
      desk.notes.map(({ thread, channelId, routeId, rule }) => [thread, channelId, routeId, rule]),
    ).toEqual([
      ['w1', 1, 1, 'held'],
      ['w2', 1, 2, 'held'],
    ]);
    expect(desk.to(70 * MINUTE).heard()).toEqual(['60: 1 down 1']);
    expect(desk.to(3 * HOUR).heard()).toEqual(['120: 1 down 2']);
  });

  it('is told before its own conversation goes on by another route, and that of others is left', () => {
    const desk = new Desk(
      setupOf(
        routeOf({ id: 1, hours: opening('14:00') }),
        routeOf({ id: 2, watches: only(1), steps: [{ afterMs: 30 * MINUTE, channels: [1] }] }),
      ),
    );
    desk
      .down(FIRST)
      .to(5 * MINUTE)
      .down(SECOND)
      .to(10 * MINUTE)
      .up(FIRST)
      .to(20 * MINUTE)
      .down(FIRST, down(T0 + 20 * MINUTE));
    const [several] = desk.to(60 * MINUTE).says;
    expect(desk.heard()).toEqual(['50: 1 several 1 1', '50: 1 down 1']);
    expect(several).toMatchObject({
      rule: 'hours-opened',
      thread: 'w1',
      event: { because: 'hours', items: [{ watchId: 1, name: 'Kiosk 1', over: { kind: 'recovered' } }] },
    });
    // What went on needs no more waiting.
    expect(desk.to(3 * HOUR).heard()).toEqual(['120: 1 down 2']);
  });

  it('does not wait where any hour will do', () => {
    const desk = new Desk(setupOf(routeOf({ hours: opening('13:00', 'urgent') })));
    desk.down(watchOf(3, { urgency: 'any-hour' })).down(watchOf(4));
    expect(desk.to(2 * HOUR).heard()).toEqual(['0: 1 down 3', '60: 1 down 4']);
  });
});

describe('what is told again', () => {
  it('says how often it was', () => {
    const desk = new Desk(setupOf(routeOf({ againMs: HOUR, againMost: 2 }))).down(FIRST).to(5 * HOUR);
    expect(desk.says.map(({ event, rule }) => [event.kind, 'times' in event && event.times, rule])).toEqual([
      ['down', false, 'step'],
      ['still-down', 1, 'again'],
      ['still-down', 2, 'again'],
    ]);
  });
});

describe('a channel that takes no messages', () => {
  it('is noted as such, by which route, and holds up nobody', () => {
    const desk = new Desk(setupOf(routeOf({ steps: [{ afterMs: 0, channels: [9, 1] }] }))).down(FIRST);
    expect(desk.heard()).toEqual(['0: 1 down 1']);
    expect(desk.notes).toEqual([{ at: T0, thread: 'w1', channelId: 9, routeId: 1, rule: 'channel-off' }]);
  });
});
