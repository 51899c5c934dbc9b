import { heardFirst, passesFilter, runsOf, type Run, type RunFilter } from '@/core/reports/runs';
import type { ListPage } from '@/store/db/list-page';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { ReportKind, Status } from '@/core/lifecycle/status';
import type { WatchConfig } from '@/core/settings/watch-config';
import { NO_FILTER, type WatchFilter } from '@/core/settings/watch-filter';
import { Recorder } from '@/store/history/recorder';
import { fetchReportTimes, saveReports } from '@/store/history/reports';
import { fetchWatch } from '@/store/watches/watches';
import { fetchRuns } from '@/views/history/run-pages';
import { fetchRunsView } from '@/views/history/runs';
import { fetchJobsView } from '@/views/jobs/jobs';
import { makeWatch, periodConfig, tempStore, webConfig, type TempStore } from '../helpers';

const NOW = Date.parse('2026-11-26T12:00:00Z');
const MIN = 60_000;
const HOUR = 60 * MIN;
const DAY = 24 * HOUR;

let store: TempStore;
beforeEach(async () => {
  store = await tempStore();
});
afterEach(() => store.close());

const cron = (expression: string, zone = 'UTC'): WatchConfig =>
  ({
    type: 'checkin',
    schedule: { type: 'cron', expression, zone },
    leeway: 600,
    longestRun: null,
  }) as WatchConfig;
const make = (
  config: WatchConfig,
  name: string,
  createdAt = NOW - 200 * DAY,
  section: string | null = null,
) => makeWatch(store.db, config, { name, createdAt, section });
const report = (watchId: number, at: number, kind: ReportKind, rest: object = {}) => ({
  ...{ watchId, at, kind, code: null, run: null, method: 'GET', address: '127.0.0.1', output: null },
  ...rest,
});

describe('what a job did', () => {
  const view = async (id: number, now = NOW) =>
    fetchRunsView(store.db, (await fetchWatch(store.db, id))!, now);
  const runsFor = async (id: number, page: Partial<ListPage> = {}, only?: RunFilter) =>
    fetchRuns(store.db, (await fetchWatch(store.db, id))!, { limit: 40, ...page }, only);
  /** A run that began so late after three in the morning, some days ago, and took so long. */
  const run = (id: number, daysAgo: number, lateMin: number, tookMin: number, how: ReportKind = 'done') => {
    const begun = Date.parse('2026-11-26T03:00:00Z') - daysAgo * DAY + lateMin * MIN;
    return [report(id, begun, 'begun'), report(id, begun + tookMin * MIN, how, { output: `day ${daysAgo}` })];
  };

  it('is nothing at first', async () => {
    const id = await make(cron('0 3 * * *'), 'Manifest backup');
    expect(await view(id)).toEqual({
      points: [],
      arrivals: [],
      lastGood: null,
      leeway: null,
      longestRun: null,
    });
  });

  it('is its runs with their due times, the newest first, and how long they took between what was usual', async () => {
    const id = await make(cron('0 3 * * *'), 'Manifest backup');
    const lengths = [10, 20, 30, 12, 11, 14, 13, 12, 40, 12];
    const reports = lengths.flatMap((took, i) => run(id, 10 - i, 1 + i, took, i === 8 ? 'failed' : 'done'));
    await saveReports(store.db, reports);
    const { points, arrivals, lastGood, leeway, longestRun } = await view(id);
    const runs = await runsFor(id);
    expect(runs.map(({ ms }) => ms! / MIN)).toEqual([...lengths].reverse());
    expect(runs[0]).toMatchObject({
      output: 'day 1',
      due: Date.parse('2026-11-25T03:00:00Z'),
      result: 'done',
    });
    expect(runs[1]!.result).toBe('failed');
    expect(lastGood).toMatchObject({ ms: 12 * MIN, due: Date.parse('2026-11-25T03:00:00Z') });
    // What failed says nothing of how long it takes.
    expect(points.map(({ ms }) => ms / MIN)).toEqual([10, 20, 30, 12, 11, 14, 13, 12, 12]);
    expect(points.map(({ low, high }) => [low / MIN, high / MIN])).toEqual([
      ...[
        [10, 10],
        [10, 20],
        [10, 30],
        [10, 30],
        [10, 30],
        [10, 30],
        [10, 30],
        [10, 30],
        [10, 30],
      ],
    ]);
    expect(points[0]!.at).toBe(Date.parse('2026-11-16T03:11:00Z'));
    // The due time of this morning was answered by none.
    expect(arrivals).toHaveLength(11);
    expect(arrivals[0]).toEqual({
      due: Date.parse('2026-11-16T03:00:00Z'),
      lateMs: MIN,
      runs: 1,
      failed: false,
    });
    expect(arrivals[8]!.failed).toBe(true);
    expect(arrivals.at(-1)).toEqual({
      due: Date.parse('2026-11-26T03:00:00Z'),
      lateMs: null,
      runs: 0,
      failed: false,
    });
    expect(leeway!.value).toBe(60 * 60);
    expect(longestRun!.value).toBe(90 * 60);
  });

  it('draws no more runs than can be told apart, and none of the longest is lost', async () => {
    const id = await make(cron('* * * * *'), 'Weather pull');
    const runs = 3000;
    await saveReports(
      store.db,
      Array.from({ length: runs }, (_, i) => {
        const begun = NOW - (runs - i) * MIN;
        const took = i === 1234 ? 50_000 : 1000 + (i % 7);
        return [report(id, begun, 'begun'), report(id, begun + took, 'done')];
      }).flat(),
    );
    const { points } = await view(id);
    expect(points.length).toBeGreaterThan(500);
    expect(points.length).toBeLessThanOrEqual(600);
    expect(Math.max(...points.map(({ ms }) => ms))).toBe(50_000);
    expect(points.map(({ at }) => at)).toEqual(points.map(({ at }) => at).sort((a, b) => a - b));
  });

  it('names what is usual by the twenty runs before', async () => {
    const id = await make(cron('0 3 * * *'), 'Manifest backup');
    const lengths = Array.from({ length: 30 }, (_, i) => (i === 0 ? 100 : i + 1));
    await saveReports(
      store.db,
      lengths.flatMap((took, i) => run(id, 40 - i, 1, took)),
    );
    const { points } = await view(id);
    expect([points[20]!.high, points[21]!.high].map((ms) => ms / MIN)).toEqual([21, 21]);
    expect([points[20]!.low, points[21]!.low].map((ms) => ms / MIN)).toEqual([3, 3]);
    expect(points[19]!.high / MIN).toBe(20);
  });

  it('begins with what is kept: no due time before the first report, nor before ninety days, is missed', async () => {
    const id = await make(cron('0 3 * * *'), 'Manifest backup');
    await saveReports(store.db, [...run(id, 100, 0, 5), ...run(id, 3, 0, 5)]);
    expect((await view(id)).arrivals.map(({ due }) => due)).toEqual(
      [23, 24, 25, 26].map((day) => Date.parse(`2026-11-${day}T03:00:00Z`)),
    );
    // One that came five minutes early answers the time that was ahead.
    const early = await make(cron('0 3 * * *'), 'Weather pull');
    await saveReports(store.db, run(early, 3, -5, 1));
    expect((await view(early)).arrivals[0]).toMatchObject({ lateMs: -5 * MIN, runs: 1 });
    const young = await make(cron('0 3 * * *'), 'Payroll', NOW - 2 * DAY);
    await saveReports(store.db, run(young, 3, 0, 5));
    expect((await view(young)).arrivals).toEqual([]);
  });

  it('is remembered for the next look at it, and goes on from there', async () => {
    const id = await make(cron('*/5 * * * *'), 'Weather pull');
    await saveReports(store.db, [report(id, NOW - 10 * HOUR, 'done')]);
    const before = (await view(id)).arrivals;
    expect(before).toHaveLength(60);
    expect(before.at(-1)!.due).toBe(NOW);
    expect((await view(id, NOW + 10 * MIN)).arrivals.at(-1)!.due).toBe(NOW + 10 * MIN);
    expect((await view(id, NOW + 10 * MIN)).arrivals).toHaveLength(60);
    // Older reports come to light, as from a copy that was put back: what was remembered does not reach back so far.
    await saveReports(store.db, [report(id, NOW - 12 * HOUR, 'done', { run: 'old' })]);
    await store.db('reports').where({ run: 'old' }).update({ id: 0 });
    expect((await view(id)).arrivals.at(-1)!.due).toBe(NOW);
  });

  it('is what came of late, of a job that runs each minute and mostly says nothing', async () => {
    const id = await make(cron('* * * * *'), 'Queue at the north pier');
    await saveReports(store.db, [report(id, NOW - 30 * DAY, 'done'), report(id, NOW - 2 * MIN, 'done')]);
    const { arrivals } = await view(id);
    expect(arrivals).toHaveLength(60);
    expect(arrivals.map(({ due }) => due)).toEqual(
      Array.from({ length: 60 }, (_, back) => NOW - (59 - back) * MIN),
    );
    expect(arrivals.filter(({ runs }) => runs > 0)).toHaveLength(1);
  });

  it('is gone through run by run, each once, in both orders and however its reports lie', async () => {
    const id = await make(cron('*/10 * * * *'), 'Tide feed', NOW - 30 * DAY);
    // Every third run fails, every fifth is never heard of again; two machines report beside each other.
    const reports = Array.from({ length: 700 }, (_, i) => {
      const begun = NOW - (700 - i) * 10 * MIN;
      const run = i % 2 === 0 ? 'pier' : null;
      const end = report(id, begun + 15 * MIN, i % 3 === 0 ? 'failed' : 'done', { run });
      return [report(id, begun, 'begun', { run }), ...(i % 5 === 0 ? [] : [end])];
    }).flat();
    reports.sort((a, b) => a.at - b.at);
    await saveReports(store.db, reports);
    const whole = runsOf(await fetchReportTimes(store.db, id, 0, 10_000));
    expect(whole).toHaveLength(700);
    const told = (runs: readonly Run[]) =>
      runs.map(({ id, firstId, result, ms, doubled }) => ({ id, firstId, result, ms, doubled }));
    for (const [ascending, only] of [
      [false],
      [true],
      [false, 'failed'],
      [true, 'never-done'],
      [false, 'doubled'],
    ] as const) {
      const gone: Run[] = [];
      for (let after: readonly [number, number] | undefined; ;) {
        const part = await runsFor(id, { ascending, limit: 61, ...(after && { after }) }, only);
        gone.push(...part);
        if (part.length < 61) break;
        after = [heardFirst(part.at(-1)!), part.at(-1)!.firstId];
      }
      const expected = whole.filter((run) => passesFilter(run, only));
      expect(expected.length, only ?? 'all').toBeGreaterThan(100);
      expect(told(gone)).toEqual(told(ascending ? expected.reverse() : expected));
    }
    const [last] = await runsFor(id, { limit: 1 });
    expect(last!.due).toBe(NOW - 10 * MIN);
    const between = await runsFor(id, { since: NOW - 100 * MIN, until: NOW - 50 * MIN });
    expect(between.map((run) => (NOW - heardFirst(run)) / MIN)).toEqual([60, 70, 80, 90, 100]);
  });

  it('tells the due time of runs that are far apart, and of none that has none', async () => {
    const id = await make(cron('0 3 1 * *'), 'Payroll export');
    const at = Date.parse('2026-10-01T03:04:00Z');
    await saveReports(store.db, [
      report(id, Date.parse('2026-05-20T10:00:00Z'), 'done'),
      report(id, at, 'done'),
      report(id, at + MIN, 'done'),
    ]);
    const dues = (await runsFor(id)).map(({ due }) => due);
    const due = Date.parse('2026-10-01T03:00:00Z');
    expect(dues).toEqual([due, due, Date.parse('2026-05-01T03:00:00Z')]);
    const never = await make(cron('0 0 30 2 *'), 'Leap of faith');
    await saveReports(store.db, [report(never, NOW - HOUR, 'done')]);
    expect((await runsFor(never)).map((run) => run.due)).toEqual([null]);
    expect(await runsFor(await make(cron('0 3 * * *'), 'Silent'))).toEqual([]);
  });

  it('has no due times where it only reports every so often', async () => {
    const id = await make(periodConfig(3600, 60), 'Kiosk');
    await saveReports(store.db, [report(id, NOW - HOUR, 'done'), report(id, NOW, 'failed', { code: 3 })]);
    const { arrivals, points, lastGood } = await view(id);
    const runs = await runsFor(id);
    expect(runs.map(({ due, ms, code }) => [due, ms, code])).toEqual([
      [null, null, 3],
      [null, null, null],
    ]);
    expect([arrivals, points]).toEqual([[], []]);
    expect(lastGood!.ended).toBe(NOW - HOUR);
  });
});

describe('all jobs together', () => {
  const view = (filter: Partial<WatchFilter> = {}, zone = 'UTC') =>
    fetchJobsView(store.db, { ...NO_FILTER, ...filter }, { now: NOW, zone });

  const saveStatus = (watchId: number, status: Status) =>
    new Recorder(store.db).save([{ watchId, status, events: [] }]);

  it('is nothing where nothing reports', async () => {
    await make(webConfig('http://booking.ternferry.test/'), 'Booking site');
    expect(await view()).toMatchObject({ now: NOW, jobs: [], all: 0, marks: [], often: [] });
  });

  it('lists what runs first, then what is due next, with what is known of each', async () => {
    const payroll = await make(cron('0 6 1 * *'), 'Payroll', NOW - DAY, 'Office');
    const backup = await make(cron('0 3 * * *'), 'Manifest backup');
    const kiosk = await make(periodConfig(3600, 60), 'Kiosk');
    const pull = await make(cron('0 4 * * *'), 'Weather pull');
    const known = (await fetchWatch(store.db, pull))!.status;
    const running = { b: NOW - 5, a: NOW - 9 };
    await saveStatus(pull, { ...known, running, lastAt: NOW - 9, lastFine: false });
    const { jobs, all } = await view();
    expect(all).toBe(4);
    expect(jobs.map(({ id }) => id)).toEqual([pull, backup, payroll, kiosk]);
    expect(jobs[0]).toMatchObject({
      name: 'Weather pull',
      state: 'waiting',
      warned: false,
      section: '',
      tags: [],
    });
    expect(jobs[0]).toMatchObject({
      running: [NOW - 9, NOW - 5],
      lastAt: NOW - 9,
      lastFine: false,
      usualMs: null,
    });
    expect(jobs.map(({ due }) => due)).toEqual([
      Date.parse('2026-11-27T04:00:00Z'),
      Date.parse('2026-11-27T03:00:00Z'),
      Date.parse('2026-12-01T06:00:00Z'),
      null,
    ]);
    expect(jobs[2]!.section).toBe('Office');
    expect(jobs[3]!.times).toContain('every 1 h');
    const office = await view({ sections: ['Office'] });
    expect([office.jobs.map(({ id }) => id), office.all]).toEqual([[payroll], 4]);
    expect(office.choices.sections).toEqual([
      { value: 'Office', text: 'Office' },
      { value: '', text: 'in no section' },
    ]);
  });

  it('shows when they run in the next day, by the reader’s clock, and how long; those that run often by name', async () => {
    const backup = await make(cron('0 3 * * *'), 'Manifest backup');
    await make(cron('30 2 * * *'), 'Weather pull');
    await make(cron('*/15 * * * *'), 'Tide pull');
    await make(cron('*/29 * * * *'), 'Berths');
    await make(periodConfig(1800, 60), 'Kiosk north');
    await make(periodConfig(1801, 60), 'Kiosk south');
    const paused = await make(cron('0 5 * * *'), 'Payroll');
    await store
      .db('watches')
      .where({ id: paused })
      .update({ paused: 1 } as never);
    await saveReports(store.db, [report(backup, NOW - HOUR, 'done')]);
    await store.db('reports').update({ run_ms: 90 * MIN } as never);
    const { marks, often, jobs } = await view({}, 'Europe/Berlin');
    expect(marks.map(({ name, minute, lasts }) => [name, minute, lasts])).toEqual([
      ['Weather pull', 3 * 60 + 30, 1],
      ['Manifest backup', 4 * 60, 90],
    ]);
    expect(often.map(({ name }) => name)).toEqual(['Tide pull', 'Berths', 'Kiosk north']);
    expect(jobs.find(({ id }) => id === backup)!.usualMs).toBe(90 * MIN);
    expect(jobs).toHaveLength(7);
  });
});
