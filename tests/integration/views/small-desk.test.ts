import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Finding } from '@/core/causes/finding';
import { NO_FILTER } from '@/core/settings/watch-filter';
import type { WatchConfig } from '@/core/settings/watch-config';
import { saveNewChannel } from '@/store/messages/channels';
import { fetchWatch } from '@/store/watches/watches';
import { fetchWatchView } from '@/views/watch/watch';
import { registryOn } from '../../unit/engine/registry-on';
import { makeWatch, periodConfig, tempStore, webConfig, type TempStore } from '../helpers';
import { overviewOf } from './overview-of';

const NOW = Date.parse('2026-11-20T12:00:00Z');
const MIN = 60_000;
const HOUR = 60 * MIN;
const DAY = 24 * HOUR;

/** What was found, in minutes before now. */
type Past = [minutesAgo: number, 'fine' | 'failed' | 'slow'][];

describe('a desk of four watches', () => {
  let store: TempStore;
  let [booking, kiosk, manifest, camera] = [0, 0, 0, 0];

  const findingOf = (at: number, verdict: Past[number][1]): Finding => {
    if (verdict === 'fine') return { at, verdict, ms: 80 } as Finding;
    const cause = verdict === 'slow' ? 'tls.expires-soon' : 'reply.status';
    return {
      at,
      verdict,
      ms: 80,
      cause,
      detail: verdict === 'slow' ? { left: '9 d' } : { status: 500 },
    } as Finding;
  };

  beforeAll(async () => {
    store = await tempStore();
    const { db } = store;
    let now = NOW;
    const registry = registryOn(db, () => now);
    const make = async (
      name: string,
      config: WatchConfig,
      daysOld: number,
      section: string | null,
      past: Past,
    ) => {
      const id = await makeWatch(db, config, { name, createdAt: NOW - daysOld * DAY, section });
      await registry.reload([id]);
      for (const [ago, verdict] of past) {
        now = NOW - ago * MIN;
        registry.apply(id, { type: 'finding', finding: findingOf(now, verdict) });
      }
      return id;
    };
    const web = (host: string) => webConfig(`http://${host}.ternferry.test/`, { every: 43_200 });
    const hour: Past = [
      [60, 'fine'],
      [10, 'failed'],
      [9, 'failed'],
      [8, 'failed'],
    ];
    booking = await make('Booking site', web('booking'), 90, 'On the water', [
      ...[1500, 1400, 1080].map((ago): [number, 'fine'] => [ago, 'fine']),
      [720, 'failed'],
      [719, 'failed'],
      [718, 'failed'],
      [600, 'fine'],
      ...hour,
    ]);
    kiosk = await make('Ticket kiosk', web('kiosk'), 1 / 12, 'On the water', [
      [110, 'fine'],
      [5, 'slow'],
    ]);
    manifest = await make('Nightly manifest', periodConfig(86_400, 300), 1, null, []);
    now = NOW - 6 * HOUR;
    registry.apply(manifest, {
      type: 'report',
      report: { at: now, kind: 'done', code: 0, run: null } as never,
    });
    camera = await make('Harbour camera', web('camera'), 90, null, [[1400, 'fine']]);
    now = NOW - 6 * HOUR;
    registry.apply(camera, { type: 'pause' });
    await db('watches').where({ id: camera }).update({ paused: true });
    await registry.flush();
    await saveNewChannel(db, {
      kind: 'desk',
      name: 'Crew room',
      settings: {},
      enabled: true,
      createdAt: NOW,
    });
  });
  afterAll(() => store.close());

  const overview = (rest: object = {}, engineAnswers = true) =>
    overviewOf(store.db, NOW, rest, engineAnswers);
  /** A line or a list of bands, in minutes before now. */
  const minutes = (spans: readonly { from: number; to: number; kind: string }[]) =>
    spans.map(({ from, to, kind }) => `${(NOW - from) / MIN}-${(NOW - to) / MIN} ${kind}`);

  it('is counted in a sentence, and what wants a hand comes first, the worst before the rest', async () => {
    const { sentence, below, cards, moreCards, together, own, lineLostSince, all, shown } = await overview();
    expect([sentence, below]).toEqual([
      'Two of four watches need you.',
      'Of the others, one is up and one is paused.',
    ]);
    expect(cards).toEqual([
      {
        id: booking,
        name: 'Booking site',
        state: 'down',
        since: NOW - 10 * MIN,
        probe: true,
        told: [],
        takenBy: null,
        warned: false,
        follows: null,
        sentence: 'The server answers, but replies 500.',
        advice: 'Look in the log of the service at the time of the first failed look.',
        ladder: [],
      },
      expect.objectContaining({
        id: kiosk,
        state: 'slow',
        since: NOW - 5 * MIN,
        warned: true,
        sentence: 'The certificate expires in 9 d.',
      }),
    ]);
    expect({ moreCards, together, own, lineLostSince, all, shown }).toEqual({
      ...{ moreCards: 0, together: [], own: [], lineLostSince: null },
      ...{ all: 4, shown: 4 },
    });
  });

  it('draws every watch on one clock, with what it stands on', async () => {
    const { rows, range } = await overview();
    expect([(NOW - range.from) / HOUR, range.to]).toEqual([24, NOW]);
    const told = ['On the water', ''].map((title) => [
      title,
      ...rows
        .filter(({ section }) => section === title)
        .map(({ name, kind, state, line, words, latest, uptime, whole, stands, warned }) => [
          ...[name, kind, state, minutes(line), words],
          ...[latest, uptime, whole, stands, warned],
        ]),
    ]);
    expect(told).toEqual([
      [
        'On the water',
        [
          ...['Booking site', 'web page', 'down'],
          ['1440-720 up', '720-600 down', '600-10 up', '10-0 down'],
          ...['down 2 h 10 min; up otherwise', '–', '90.97 %', false, '', false],
        ],
        [
          ...['Ticket kiosk', 'web page', 'slow'],
          ['1440-120 unobserved', '120-110 waiting', '110-5 up', '5-0 slow'],
          'slow 5 min, not observed 22 h, waiting 10 min; up otherwise',
          ...['80 ms', '100 %', true, 'since 10:00 today, 2 h', true],
        ],
      ],
      [
        '',
        [
          ...['Nightly manifest', 'check-in', 'up', ['1440-360 waiting', '360-0 up']],
          ...['waiting 18 h; up otherwise', '6 h ago', '100 %', true, '6 h observed', false],
        ],
        [
          ...['Harbour camera', 'web page', 'paused', ['1440-1400 waiting', '1400-360 up', '360-0 paused']],
          'paused 6 h, waiting 40 min; up otherwise',
          ...['80 ms', '100 %', true, '17 h 20 min observed', false],
        ],
      ],
    ]);
  });

  it('is put in order by how bad it is, and narrowed by words, without counting fewer', async () => {
    const names = async (rest: object) => {
      const { rows, all, shown } = await overview(rest);
      return [rows.map(({ name }) => name), all, shown];
    };
    expect(await names({ worstFirst: true })).toEqual([
      ['Booking site', 'Ticket kiosk', 'Harbour camera', 'Nightly manifest'],
      ...[4, 4],
    ]);
    expect(await names({ filter: { ...NO_FILTER, text: 'harbour' } })).toEqual([['Harbour camera'], 4, 1]);
  });

  it('calls out who would tell nobody, and an engine that is not there', async () => {
    const { unheard, own } = await overview({}, false);
    expect([unheard.count, unheard.first.map(({ id }) => id)]).toEqual([3, [booking, manifest, kiosk]]);
    expect(own).toEqual([expect.objectContaining({ key: 'engine', began: null })]);
    expect(own[0]!.sentence).toMatch(/engine is not running/);
  });

  it('tells all of one watch: figures with what they stand on, history, outages, and what would become of it', async () => {
    const watch = (await fetchWatch(store.db, booking))!;
    const view = await fetchWatchView(store.db, watch, { range: '24h', now: NOW, zone: 'UTC' });
    expect(view.uptimes).toEqual([
      { label: '24 hours', text: '90.97 %' },
      ...['7', '30', '90'].map((days) => ({ label: `${days} days, 1 d 1 h observed`, text: '91.33 %' })),
    ]);
    expect([view.since, view.unseen, view.moreOutages, view.unheard]).toEqual([null, '', 0, true]);
    expect(view.history.words).toBe('down 2 h 10 min, waiting 88 d 23 h; up otherwise');
    expect(minutes(view.history.line).slice(-3)).toEqual(['720-600 down', '600-10 up', '10-0 down']);
    expect(minutes(view.chart.bands)).toEqual(['720-600 down', '10-0 down']);
    expect(view.chart.points.map(({ median, count }) => [median, count])).toEqual(Array(4).fill([80, 1]));
    expect(
      view.outages.map(({ began, ended }) => [(NOW - began) / MIN, ended && (NOW - ended) / MIN]),
    ).toEqual([
      [10, null],
      [720, 600],
    ]);
    expect(view.outageSummary).toBe(
      '2 in 90 days, 2 h 10 min in all; from the end of one to the beginning of the next 9 h 50 min on average',
    );
    expect(view.evidence.map(({ at, cause }) => [(NOW - at) / MIN, cause])).toEqual([
      [10, 'reply.status'],
      [720, 'reply.status'],
    ]);
    expect(view.findings.map(({ at, verdict }) => `${(NOW - at) / MIN} ${verdict}`).slice(0, 5)).toEqual([
      ...['8 failed', '9 failed', '10 failed'],
      ...['60 fine', '600 fine'],
    ]);
    expect([view.target, view.goesWith, view.foretold]).toEqual([
      'http://booking.ternferry.test/',
      'Its looks stop. 2 outages of the last 90 days would go with it.',
      'Nobody would be told.',
    ]);
    expect(view.trouble?.sentence).toBe('The server answers, but replies 500.');
  });

  it('tells of a check-in when it is due, and of a paused watch that it is', async () => {
    const job = await fetchWatchView(store.db, (await fetchWatch(store.db, manifest))!, {
      ...{ range: '24h' as const, now: NOW, zone: 'UTC' },
    });
    expect(job).toMatchObject({
      target: 'every 1 d',
      readings: null,
      trouble: null,
      outageSummary: 'none in 1 d',
    });
    expect(job.dues.length).toBeGreaterThan(0);
    const rests = await fetchWatchView(store.db, (await fetchWatch(store.db, camera))!, {
      ...{ range: '24h' as const, now: NOW, zone: 'UTC' },
    });
    expect(rests.history.words).toBe('paused 6 h, waiting 89 d; up otherwise');
  });
});
