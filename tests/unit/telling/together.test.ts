import { describe, expect, it } from 'vitest';
import { composeSaid } from '@/core/messages/said';
import { pullTelling, shiftTelling } from '@/core/telling/shift';
import { nextTellingAt } from '@/core/telling/tell';
import { NOTHING_TOLD, USUAL_FOLDING } from '@/core/telling/telling';
import { Desk, downOn, HOUR, MINUTE, routeOf, setupOf, T0, watchOf } from './telling-on';

const PIER = 'pier.ternferry.test';
const HOSTS = { 1: PIER, 2: PIER, 3: PIER, 4: PIER, 7: 'office.ternferry.test', 8: 'office.ternferry.test' };
const [SITE, CAMERA, QUEUE, KIOSK] = [watchOf(1), watchOf(2), watchOf(3), watchOf(4)];
const [OFFICE, ROTA] = [watchOf(7), watchOf(8)];
const desk = (...routes: ReturnType<typeof routeOf>[]) =>
  new Desk(setupOf(...(routes.length > 0 ? routes : [routeOf()])), HOSTS);
const SECOND = 1000;

describe('troubles that likely have one cause', () => {
  it('are told as one, but for the first, which is told at once', () => {
    const one = desk().down(SITE);
    one.to(10 * SECOND).down(CAMERA);
    one.to(20 * SECOND).down(QUEUE);
    expect(one.heard()).toEqual(['0: 1 down 1']);
    expect(one.rules()).toEqual(['gathered 1', 'gathered 1']);
    one.to(25 * SECOND);
    const [saying] = one.says;
    expect(saying).toMatchObject({ rule: 'together', thread: null, at: T0 + 25 * SECOND });
    const { title, lines } = composeSaid(saying!.event, { watchName: '', zone: 'UTC', link: 'x' });
    expect(title).toBe('Two more are down');
    expect(lines.slice(0, 2)).toEqual([
      `Three watches on ${PIER} failed within 20 s.`,
      'Try this: Look at the host: a full disk, no memory left, or a restart are the usual reasons.',
    ]);
    expect(lines[2]).toMatch(/^Kiosk 2, since Mon 23 Nov/);
    expect(lines).toHaveLength(5);
    // Each is a conversation of its own from then on.
    one.heard();
    expect(one.to(HOUR).up(CAMERA).heard()).toEqual(['60: 1 recovered 2']);
  });

  it('are told as one also where the minute in which messages are folded ends at that very moment', () => {
    const one = desk().down(SITE);
    one
      .to(45 * SECOND)
      .down(CAMERA)
      .heard();
    one.to(MINUTE);
    expect(one.says.map(({ rule, at }) => [rule, at - T0])).toEqual([['together', MINUTE]]);
    // And goes on: what comes next is told as ever.
    one.to(10 * MINUTE).down(OFFICE);
    expect(one.heard().at(-1)).toBe('10: 1 down 7');
  });

  it('is named where one alone follows, with the link to take it', () => {
    const one = desk().down(SITE);
    one.to(SECOND).down(CAMERA).heard();
    one.to(MINUTE);
    const [saying] = one.says;
    expect(saying).toMatchObject({ thread: 'w2', watch: { id: 2 }, openedAt: T0 + SECOND });
    const subject = { watchName: 'Kiosk 2', zone: 'UTC', link: 'x' };
    expect(composeSaid(saying!.event, subject).title).toBe('Kiosk 2 is down');
    const german = composeSaid(saying!.event, { ...subject, language: 'de' });
    expect(german.lines[0]).toBe('Kiosk 1 und Kiosk 2 haben vermutlich eine gemeinsame Ursache.');
  });

  it('wait for nothing where they are not the same: another host, another time, or what is over', () => {
    const one = desk().down(SITE).down(OFFICE);
    expect(one.heard()).toEqual(['0: 1 down 1', '0: 1 down 7']);
    one.to(5 * MINUTE + 2).down(CAMERA);
    expect(one.heard().at(-1)).toMatch(/down 2$/);
    const other = desk().down(SITE);
    other.to(SECOND).up(SITE).down(CAMERA);
    expect(other.heard().map((said) => said.split(' ')[2])).toEqual(['down', 'recovered', 'down']);
  });

  it('are those of one channel: who heard of none hears of the next at once', () => {
    const routes = [
      routeOf({ watches: { ...routeOf().watches, all: false, ids: [1] } }),
      routeOf({
        id: 2,
        steps: [{ afterMs: 0, channels: [2] }],
        watches: { ...routeOf().watches, all: false, ids: [2] },
      }),
    ];
    expect(
      desk(...routes)
        .down(SITE)
        .down(CAMERA)
        .heard(),
    ).toEqual(['0: 1 down 1', '0: 2 down 2']);
  });

  it('that are over while they wait are told so, once', () => {
    const one = desk().down(SITE).down(CAMERA).up(CAMERA);
    one.to(MINUTE);
    expect(one.heard()).toEqual(['0: 1 down 1', '0.25: 1 several 1 2']);
    expect(one.up(SITE).heard()).toEqual(['1: 1 recovered 1']);
  });

  it('among many are told with the many', () => {
    const one = desk();
    for (let id = 10; id < 15; id += 1) one.down(watchOf(id));
    one.down(SITE).down(CAMERA);
    expect(one.heard()).toHaveLength(5);
    expect(one.to(30 * SECOND).heard()).toEqual([]);
    expect(one.to(2 * MINUTE).heard()).toEqual(['1: 1 several 2']);
  });

  it('do not put off what belongs to nothing, nor wait longer than the first of them', () => {
    const one = desk().down(SITE);
    one.to(2 * SECOND).down(CAMERA);
    one
      .to(10 * SECOND)
      .down(OFFICE)
      .down(QUEUE);
    one
      .to(16 * SECOND)
      .down(KIOSK)
      .heard();
    one.to(17 * SECOND);
    expect(one.heard().map((said) => said.split(': ')[1])).toEqual(['1 several 3']);
  });

  it('are not named as told before where they are among those that are told', () => {
    const one = desk().down(SITE).down(CAMERA).down(QUEUE);
    one.to(MINUTE);
    const { event } = one.says.at(-1)!;
    expect(event).toMatchObject({ items: [{ watchId: 2 }, { watchId: 3 }], before: [{ watchId: 1 }] });
    // What comes after them belongs to all three.
    one.down(KIOSK).to(2 * MINUTE);
    expect(one.says.at(-1)!.event).toMatchObject({
      items: [{ watchId: 4 }],
      before: [{ watchId: 1 }, { watchId: 2 }, { watchId: 3 }],
    });
  });

  it('add to the conversation of the first they belong to, and to none where not all of them do', () => {
    const one = desk().down(OFFICE).down(SITE);
    one.to(SECOND).down(CAMERA).down(QUEUE).to(MINUTE);
    expect(one.says.at(-1)).toMatchObject({
      event: { kind: 'several', items: [{ watchId: 2 }, { watchId: 3 }] },
      thread: null,
      follows: { thread: one.says[1]!.thread, openedAt: T0 },
    });
    expect(one.says.slice(0, -1).map(({ follows }) => follows)).toEqual([null, null]);
    const other = desk().down(OFFICE).down(SITE);
    other.to(SECOND).down(CAMERA).down(ROTA).to(MINUTE);
    expect(other.says.at(-1)).toMatchObject({
      event: { kind: 'several', items: [{ watchId: 2 }, { watchId: 8 }] },
      follows: null,
    });
  });

  it('are said of a drill by themselves', () => {
    const drill = (id: number) => watchOf(id, { drill: 3 });
    const one = desk().down(drill(1), downOn(T0, PIER)).down(drill(2), downOn(T0, PIER));
    one.to(MINUTE);
    expect(one.says.map(({ event, drill: of }) => [event.kind, of])).toEqual([
      ['down', 3],
      ['several', 3],
    ]);
  });

  it('wait as long when the clock is set, and are forgotten once nothing can belong to them', () => {
    const one = desk().down(SITE);
    one.to(SECOND).down(CAMERA).heard();
    const back = shiftTelling(one.telling, -HOUR).telling;
    expect(nextTellingAt(back, USUAL_FOLDING)).toBe(T0 + 16 * SECOND - HOUR);
    const pulled = pullTelling(one.telling, T0 - HOUR, USUAL_FOLDING);
    expect(nextTellingAt(pulled, USUAL_FOLDING)).toBe(T0 - HOUR + 15 * SECOND);
    one.restart().to(MINUTE);
    expect(one.heard()).toEqual(['0.26666666666666666: 1 several 1 2']);
    one
      .up(SITE)
      .up(CAMERA)
      .to(2 * HOUR);
    expect(one.telling).toEqual(NOTHING_TOLD);
  });
});
