import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { composeMessage } from '@/core/messages/message';
import { factsOf } from '@/core/telling/happen';
import type { Saying } from '@/core/telling/telling';
import { withMonths } from '@/engine/messages/month';
import { makeWatch, periodConfig, tempStore, type TempStore } from '../../integration/helpers';

const LISBON = 'Europe/Lisbon';
const at = (text: string) => Date.parse(text);
const ENDED = at('2026-11-11T00:00:00Z');
const FIRST = at('2026-11-01T00:00:00Z');
const HOUR_MS = 3_600_000;

describe('the month of a recovery', () => {
  let store: TempStore;
  let id: number;

  beforeEach(async () => {
    store = await tempStore();
    id = await makeWatch(store.db, periodConfig(60, 60), { createdAt: at('2026-10-01T00:00:00Z') });
  });
  afterEach(() => store.close());

  const stretch = (from: number, to: number | null, kind = 'up') =>
    store.db('stretches').insert({ watch_id: id, began: from, ended: to, kind } as never);
  const outage = (from: number, to: number | null) =>
    store.db('outages').insert({
      watch_id: id,
      began: from,
      noticed: from,
      ended: to,
      cause: 'port.refused',
      causes: '[]',
      detail: '{}',
    } as never);
  const saying = (rest: Partial<Saying> = {}): Saying => ({
    channelId: 1,
    thread: 'w1.1',
    watch: factsOf({ id, name: 'Booking site', kind: 'web', section: null, tags: [] }),
    openedAt: null,
    follows: null,
    outageIds: [],
    drill: null,
    event: { kind: 'recovered', began: ENDED - HOUR_MS, ended: ENDED },
    routeId: null,
    rule: 'step',
    ...rest,
  });
  const monthOf = async (one = saying(), zone = LISBON) =>
    ((await withMonths(store.db, [one], zone))[0]!.event as { month?: object }).month;

  it('is what was observed of it, less what it was down', async () => {
    await stretch(at('2026-10-01T00:00:00Z'), null);
    await outage(at('2026-10-05T00:00:00Z'), at('2026-10-06T00:00:00Z'));
    await outage(ENDED - HOUR_MS, ENDED);
    expect(await monthOf()).toEqual({ from: FIRST, uptime: 1 - 1 / 240 });
  });

  it('begins where the zone’s month does', async () => {
    await stretch(at('2026-10-01T00:00:00Z'), null);
    expect(await monthOf(saying(), 'Asia/Tokyo')).toMatchObject({ from: at('2026-10-31T15:00:00Z') });
    const first = { kind: 'recovered' as const, began: FIRST - 60_000, ended: FIRST + 60_000 };
    expect(await monthOf(saying({ event: first }))).toMatchObject({ from: FIRST });
    // A minute into November there, it is still October farther west.
    expect(await monthOf(saying({ event: first }), 'America/New_York')).toMatchObject({
      from: at('2026-10-01T04:00:00Z'),
    });
  });

  it('begins where the watch does, where that is later', async () => {
    const made = at('2026-11-10T00:00:00Z');
    await stretch(made - HOUR_MS, made, 'waiting');
    await stretch(made, null);
    await outage(ENDED - 6 * HOUR_MS, ENDED);
    expect(await monthOf()).toEqual({ from: made, uptime: 0.75 });
  });

  it('is not said where nothing was observed, in a drill, or of anything else', async () => {
    expect(await monthOf()).toBeUndefined();
    await stretch(at('2026-10-01T00:00:00Z'), null);
    expect(await monthOf(saying({ drill: 3 }))).toBeUndefined();
    expect(await monthOf(saying({ watch: null }))).toBeUndefined();
    expect(await monthOf(saying({ event: { kind: 'steady', since: FIRST } }))).toBeUndefined();
    expect(await monthOf()).toBeDefined();
  });

  it('is each watch’s own, and leaves the order as it is', async () => {
    await stretch(at('2026-10-01T00:00:00Z'), null);
    const all = await withMonths(
      store.db,
      [saying({ watch: { ...saying().watch!, id: 999 } }), saying({ channelId: 2 }), saying({ drill: 1 })],
      LISBON,
    );
    expect(all.map(({ channelId }) => channelId)).toEqual([1, 2, 1]);
    expect(all.map(({ event }) => 'month' in event)).toEqual([false, true, false]);
  });

  it('stands in the message, as the language says it', () => {
    const event = {
      kind: 'recovered' as const,
      began: ENDED - HOUR_MS,
      ended: ENDED,
      month: { from: FIRST, uptime: 0.99999 },
    };
    const subject = { watchName: 'Booking site', link: '', zone: LISBON };
    expect(composeMessage(event, subject).lines[1]).toBe(
      'Since Sun 1 Nov, 00:00 it was up 99.99 % of the time.',
    );
    expect(composeMessage(event, { ...subject, language: 'de' }).lines[1]).toContain('99,99 %');
  });
});
