import { describe, expect, it } from 'vitest';
import { nextTellingAt, tell, tellAll } from '@/core/telling/tell';
import {
  NOTHING_TOLD,
  type Saying,
  type Setup,
  type Telling,
  type TellingInput,
} from '@/core/telling/telling';
import { down, HOUR, MINUTE, routeOf, setupOf, T0, up, watchOf } from './telling-on';

const hold = {
  zone: 'UTC',
  spans: [{ days: [1, 2, 3, 4, 5], from: '14:00', until: '18:00' }],
  daysOff: [],
  outside: 'hold' as const,
};

/** What was said, each with why, by which route, in which conversation, about which outages, and since when it was open. */
class Log {
  telling: Telling = NOTHING_TOLD;
  says: string[] = [];
  notes: string[] = [];

  constructor(public setup: Setup) {}

  private step(inputs: TellingInput[], at: number): void {
    const told = tellAll(this.telling, inputs, at, this.setup);
    this.telling = told.telling;
    const minute = (ms: number | null) => (ms === null ? '-' : (ms - T0) / MINUTE);
    this.says.push(
      ...told.says.map(
        ({ channelId, event, rule, routeId, thread, watch, outageIds, openedAt }: Saying) =>
          `${minute(at)}: ${event.kind} to ${channelId}, ${rule} ${routeId}, ${thread} ${watch?.id ?? '-'} [${outageIds.join()}] ${minute(openedAt)}`,
      ),
    );
    this.notes.push(
      ...told.notes.map(
        ({ at: noted, thread, channelId, routeId, rule }) =>
          `${minute(noted)}: ${rule}, ${thread} ${channelId} ${routeId}`,
      ),
    );
  }

  to(minutes: number): this {
    for (;;) {
      const due = nextTellingAt(this.telling, this.setup.folding);
      if (due === null || due > T0 + minutes * MINUTE) return this;
      this.step([{ type: 'tick' }], due);
    }
  }

  private at(minutes: number, ...happenings: object[]): this {
    this.to(minutes);
    const inputs = happenings.map((happening) => ({ type: 'happened', happening }) as TellingInput);
    this.step(inputs, T0 + minutes * MINUTE);
    return this;
  }

  downAt(minutes: number, ...ids: number[]): this {
    const at = T0 + minutes * MINUTE;
    return this.at(
      minutes,
      ...ids.map((id) => ({
        thread: `w${id}`,
        phase: 'opens',
        watch: watchOf(id),
        event: down(at),
        outageId: id * 10,
      })),
    );
  }

  upAt(minutes: number, ...ids: number[]): this {
    const event = up(T0, T0 + minutes * MINUTE);
    return this.at(
      minutes,
      ...ids.map((id) => ({ thread: `w${id}`, phase: 'closes', watch: watchOf(id), event })),
    );
  }

  joinsAt(minutes: number, id: number, upstream: number): this {
    return this.at(minutes, { thread: `w${upstream}`, phase: 'joins', watch: watchOf(id) });
  }

  takenAt(minutes: number, id: number): this {
    this.to(minutes);
    this.step([{ type: 'take', thread: `w${id}`, by: 'Ines', until: null }], T0 + minutes * MINUTE);
    return this;
  }

  givenBackAt(minutes: number, id: number): this {
    this.to(minutes);
    this.step([{ type: 'give-back', thread: `w${id}`, by: 'Ines' }], T0 + minutes * MINUTE);
    return this;
  }
}

describe('what is said carries why it is', () => {
  it('from its beginning, by steps and reminders, to its end', () => {
    const steps = [
      { afterMs: 0, channels: [1] },
      { afterMs: 2 * MINUTE, channels: [2] },
    ];
    const log = new Log(setupOf(routeOf({ id: 5, steps, againMs: 10 * MINUTE })))
      .downAt(0, 7)
      .to(12)
      .upAt(13, 7);
    expect(log.says).toEqual([
      '0: down to 1, step 5, w7 7 [70] 0',
      '2: down to 2, step 5, w7 7 [70] 0',
      '12: still-down to 1, again 5, w7 7 [70] 0',
      '12: still-down to 2, again 5, w7 7 [70] 0',
      '13: recovered to 1, over 5, w7 7 [70] 0',
      '13: recovered to 2, over 5, w7 7 [70] 0',
    ]);
    expect(log.notes).toEqual([]);
  });

  it('when hours open: one as it is, in its conversation, and several in one of none', () => {
    const closed = setupOf(routeOf({ id: 5, hours: hold }));
    const one = new Log(closed).downAt(0, 7).to(3 * 60);
    expect(one.notes).toEqual(['0: held, w7 1 5']);
    expect(one.says).toEqual(['120: down to 1, hours-opened 5, w7 7 [70] 0']);
    expect(one.upAt(200, 7).says.at(-1)).toBe('200: recovered to 1, over 5, w7 7 [70] 0');
    const two = new Log(closed)
      .downAt(0, 7)
      .downAt(5, 8)
      .upAt(20, 8)
      .to(3 * 60);
    expect(two.says).toEqual(['120: several to 1, hours-opened 5, null - [70,80] -']);
    // The one that was over with it has been told whole; the other hears its end.
    expect(two.upAt(190, 7).says.at(-1)).toBe('190: recovered to 1, over 5, w7 7 [70] 0');
    expect(two.telling.rooms.size).toBe(1);
    const ended = new Log(closed)
      .downAt(0, 7)
      .upAt(20, 7)
      .to(3 * 60);
    expect(ended.says).toEqual(['120: several to 1, hours-opened 5, w7 7 [70] 0']);
    expect(ended.telling.rooms.size).toBe(0);
  });

  it('in a burst: the first few, then the rest in one, and their ends likewise', () => {
    const log = new Log(setupOf(routeOf({ id: 5 }))).downAt(0, 1, 2, 3, 4, 5, 6, 7);
    expect(log.says.map((line) => line.split(',')[0])).toEqual(Array(5).fill('0: down to 1'));
    expect(log.notes).toEqual(['0: gathered, w6 1 5', '0: gathered, w7 1 5']);
    log.to(1);
    expect(log.says.at(-1)).toBe('1: several to 1, burst 5, null - [60,70] -');
    log.upAt(10, 1, 2, 3, 4, 5, 6, 7);
    expect(log.says.slice(6).map((line) => line.split(',')[0])).toEqual(Array(5).fill('10: recovered to 1'));
    expect(log.to(11).says.at(-1)).toBe('11: several-over to 1, burst 5, null - [60,70] -');
    expect(log.telling.rooms.size).toBe(0);
    // One more in a burst is told as it is.
    const six = new Log(setupOf(routeOf({ id: 5 }))).downAt(0, 1, 2, 3, 4, 5, 6).to(1);
    expect(six.says.at(-1)).toBe('1: down to 1, burst 5, w6 6 [60] 0');
    // A burst is over after its minute, to the moment.
    const late = new Log(setupOf(routeOf({ id: 5 }))).downAt(0, 1, 2, 3, 4, 5).downAt(1, 6);
    expect(late.says.at(-1)).toBe('1: down to 1, step 5, w6 6 [60] 1');
  });

  it('of what follows, told once and to those who heard', () => {
    const late = { afterMs: 30 * MINUTE, channels: [2] };
    const steps = [{ afterMs: 0, channels: [1] }, late];
    const log = new Log(setupOf(routeOf({ id: 5, steps })))
      .downAt(0, 7)
      .joinsAt(0, 8, 7)
      .joinsAt(0, 8, 7)
      .to(5);
    expect(log.says.slice(1)).toEqual(['1: also to 1, joined 5, w7 7 [70] 0']);
    expect(log.joinsAt(6, 9, 7).to(8).says.slice(2)).toEqual(['7: also to 1, joined 5, w7 7 [70] 0']);
  });

  it('while it keeps turning, and when it stands still', () => {
    const log = new Log(setupOf(routeOf({ id: 5 })));
    for (let i = 0; i < 3; i += 1) log.downAt(i * 4, 7).upAt(i * 4 + 2, 7);
    expect(log.says.at(-1)).toBe('10: unsteady to 1, unsteady 5, w7 7 [70] 8');
    expect(log.notes).toEqual(['10: unsteady, w7 1 5']);
    expect(log.to(60).says.at(-1)).toBe('40: steady to 1, steady 5, w7 7 [] -');
    expect(log.telling.threads.size).toBe(0);
    // Turns that lie half an hour apart to the moment are no more together.
    const slow = new Log(setupOf(routeOf({ id: 5 })));
    for (const [at, over] of [
      [0, 1],
      [28, 29],
      [30, 31],
    ] as const)
      slow.downAt(at, 7).upAt(at + (over - at), 7);
    expect(slow.says.some((line) => line.includes('unsteady'))).toBe(false);
  });

  it('when somebody takes it and gives it back: steps follow at once, reminders from then, what lies ahead stays', () => {
    const steps = [
      { afterMs: 0, channels: [1] },
      { afterMs: 5 * MINUTE, channels: [2] },
      { afterMs: 40 * MINUTE, channels: [3] },
    ];
    const log = new Log(setupOf(routeOf({ id: 5, steps, againMs: 10 * MINUTE })));
    log.downAt(0, 7).takenAt(1, 7).givenBackAt(20, 7);
    expect(log.says.slice(1)).toEqual([
      '1: taken to 1, taken 5, w7 7 [70] 0',
      '20: given-back to 1, given-back 5, w7 7 [70] 0',
      '20: down to 2, step 5, w7 7 [70] 0',
    ]);
    log.to(41);
    expect(log.says.at(-1)).toBe('40: down to 3, step 5, w7 7 [70] 0');
    log.takenAt(45, 7).givenBackAt(47, 7).to(50);
    expect(log.says.filter((line) => line.includes('again')).map((line) => line.split(':')[0])).toEqual([
      '50',
      '50',
      '50',
    ]);
    log.takenAt(51, 7).givenBackAt(70, 7).to(81);
    expect(log.says.filter((line) => line.includes('again')).map((line) => line.split(':')[0])).toEqual([
      ...['50', '50', '50'],
      ...['80', '80', '80'],
    ]);
  });

  it('and what is not said carries it too', () => {
    const rests = { ...setupOf(routeOf({ id: 5 })), channels: new Set([2]) };
    expect(new Log(rests).downAt(0, 7).notes).toEqual(['0: channel-off, w7 1 5']);
    const asks = setupOf(routeOf({ id: 5, topics: ['down'] }));
    expect(new Log(asks).downAt(0, 7).upAt(5, 7).notes).toEqual(['5: not-asked, w7 1 5']);
    const never = setupOf(routeOf({ id: 5, steps: [] }));
    expect(new Log(never).downAt(0, 7).upAt(5, 7)).toMatchObject({ says: [], notes: [] });
    const late = setupOf(routeOf({ id: 5, steps: [{ afterMs: HOUR, channels: [1] }] }));
    expect(new Log(late).downAt(0, 7).upAt(5, 7).notes).toEqual(['5: over-before-its-time, w7 null 5']);
    expect(new Log(asks).upAt(5, 7).notes).toEqual(['5: never-told, w7 null null']);
    expect(new Log(asks).downAt(0, 7).downAt(1, 7).notes).toEqual(['1: already-open, w7 null null']);
    const gone = new Log(late).downAt(0, 7);
    gone.setup = setupOf();
    expect(gone.to(61).notes).toEqual(['60: route-gone, w7 null 5']);
    const again = setupOf(
      routeOf({
        id: 5,
        againMs: HOUR,
        hours: { ...hold, spans: [{ days: [1], from: '12:00', until: '12:30' }] },
      }),
    );
    expect(new Log(again).downAt(0, 7).to(61).notes).toEqual(['60: outside-hours, w7 null 5']);
  });

  it('tells at one moment in one order, whoever asks', () => {
    const steps = [{ afterMs: MINUTE, channels: [1, 2] }];
    const setup = setupOf(
      routeOf({ id: 5, steps }),
      routeOf({ id: 6, steps: [{ afterMs: MINUTE, channels: [3] }] }),
    );
    const whole = new Log(setup).downAt(0, 7, 8).to(1);
    const late = tell(new Log(setup).downAt(0, 7, 8).telling, { type: 'tick' }, T0 + HOUR, setup);
    expect(late.says.map(({ channelId, thread }) => [channelId, thread])).toEqual([
      [1, 'w7'],
      [2, 'w7'],
      [3, 'w7'],
      [1, 'w8'],
      [2, 'w8'],
      [3, 'w8'],
    ]);
    expect(whole.says).toHaveLength(6);
  });
});
