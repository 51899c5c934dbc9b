import { DAY_MS } from '@/core/time/units';
import type { Knex } from 'knex';
import { newCheckinKey } from '@/accounts/secrets';
import type { OwnConfig } from '@/core/settings/cascade';
import type { Evidence, Finding, Phases, Rung } from '@/core/causes/finding';
import { nextTickOf } from '@/core/lifecycle/decide-checkin';
import type { CheckinRules } from '@/core/lifecycle/status';
import { nextDue, nextLookDue, offsetOf } from '@/core/schedule/schedule';
import { NO_PICTURES } from '@/core/pages/picture';
import { NO_FILTER } from '@/core/settings/watch-filter';
import { rulesOf, scheduleOf } from '@/core/settings/watch-config';
import { saveShared } from '@/store/watches/cascade';
import { saveFilter } from '@/store/watches/filters';
import { fetchChannels } from '@/store/messages/channels';
import { fetchDueDeliveries, saveAttempts } from '@/store/messages/deliveries';
import { Recorder } from '@/store/history/recorder';
import { fetchReportsAfter, saveReports, type NewReport } from '@/store/history/reports';
import { fetchFileSizes, saveFileSize } from '@/store/db/file-size';
import { saveRollups } from '@/store/history/rollups';
import { fetchWatch, saveNewWatch, saveWatchChange } from '@/store/watches/watches';
import { connectRooms, SILENT_ROOM } from './channels';
import { fillPictures } from './fill-pictures';
import { fillPage, type FilledWatch } from './fill-page';
import { randomFrom } from './random';
import { Replay } from './replay';
import { tellPast } from './tell-past';
import {
  DEMO_TAGS,
  demoWatches,
  WATER,
  ZONE,
  type DemoCheckin,
  type DemoProbe,
  type DemoWatch,
  type Happening,
} from './scenario';

const EVERY_SECONDS = 300;
const SILENT_FOR_MS = 15 * 60_000;
/** So many days of growth the demo has, and what part of the whole came each day. */
const DAYS_OF_SIZES = 60;
const GROWN_A_DAY = 0.004;

export interface FillOptions {
  db: Knex;
  now: number;
  harbourPort: number;
  /** Where the drawings of the ferries are; without it pages have none. */
  drawings?: string;
  /** Told after each watch. */
  onProgress: (done: number, all: number, name: string) => void;
}

/** What is set on the watch itself; its pace comes from what holds for everything. */
function ownOf(watch: DemoWatch): OwnConfig {
  if (watch.type === 'checkin') {
    const { schedule, leeway } = watch;
    return { type: 'checkin', schedule, leeway };
  }
  const { settings, slowAfter } = watch;
  return { type: 'probe', settings, ...(slowAfter !== null && { slowAfter }) };
}

function ladderFor(watch: DemoProbe, happening: Extract<Happening, { type: 'failed' }>): Rung[] {
  const settings = watch.settings as { port?: number; address?: string };
  const port = settings.port ?? new URL(settings.address ?? 'http://localhost').port;
  const rungs: [Rung['rung'], string][] = [
    ['name', 'name'],
    ['port', `port ${port}`],
    ...(settings.address?.startsWith('https')
      ? ([['certificate', 'certificate']] as [Rung['rung'], string][])
      : []),
    ...(settings.address ? ([['reply', 'reply']] as [Rung['rung'], string][]) : []),
  ];
  const layer = happening.cause.startsWith('port')
    ? 'port'
    : happening.cause.startsWith('tls')
      ? 'certificate'
      : 'reply';
  const broke = rungs.findIndex(([rung]) => rung === layer);
  return rungs.map(([rung, label], i) => ({
    rung,
    label,
    result: i < broke ? 'fine' : i === broke ? 'failed' : 'not-reached',
  }));
}

/** What a look would have found at a moment of the story. */
function findingAt(watch: DemoProbe, at: number, now: number, random: () => number): Finding | null {
  const ago = now - at;
  const during = watch.happenings.find((h) => ago <= h.from && ago > h.to);
  if (during?.type === 'unobserved') return null;
  if (during?.type === 'failed') {
    const ms = during.cause === 'port.timeout' ? 10_000 : 4 + random() * 20;
    const evidence: Evidence = { ladder: ladderFor(watch, during) };
    return { at, verdict: 'failed', ms, cause: during.cause, detail: during.detail, evidence };
  }
  // Busier by day, with a tail: log-normal by a sum of uniform numbers.
  const hour = (at / 3_600_000) % 24;
  const day = 1 + 0.25 * Math.sin(((hour - 9) / 24) * 2 * Math.PI);
  const spread = Math.exp((random() + random() + random() - 1.5) * 0.55);
  const tail = random() < 0.02 ? 1.6 : 1;
  const slow = during?.type === 'slow' ? during.ms / watch.usualMs : 1;
  const ms = watch.usualMs * day * spread * tail * slow;
  const { reading } = watch;
  const warmth =
    reading && reading.mean + reading.swing * (Math.sin(((hour - 9) / 24) * 2 * Math.PI) + spread - 1);
  const phases: Phases =
    watch.kind !== 'web' ? { connect: ms } : { connect: ms * 0.05, firstByte: ms * 0.85, download: ms * 0.1 };
  const evidence: Evidence = {
    phases,
    ...(reading && { reading: { value: inSteps(warmth!, reading.step), unit: reading.unit } }),
  };
  return { at, verdict: 'fine', ms, evidence };
}

function inSteps(value: number, step: number): number {
  return Math.max(0, Number((Math.round(value / step) * step).toFixed(1)));
}

async function fillProbe(replay: Replay, watch: DemoProbe, id: number, now: number): Promise<void> {
  const random = randomFrom(id * 7919);
  const everyMs = EVERY_SECONDS * 1000;
  const offset = offsetOf(id, everyMs);
  const windows = watch.happenings.filter((h) => h.type === 'maintenance');
  let resting = false;
  let at = nextLookDue(everyMs, offset, now - watch.age);
  while (at < now) {
    const shouldRest = windows.some((w) => now - at <= w.from && now - at > w.to);
    if (shouldRest !== resting) {
      resting = shouldRest;
      await replay.apply({ type: 'window', open: shouldRest }, at);
    }
    const finding = findingAt(watch, at, now, random);
    if (finding) await replay.apply({ type: 'finding', finding }, at + finding.ms);
    at = replay.status.state === 'doubtful' ? at + 20_000 : nextLookDue(everyMs, offset, at);
  }
  await replay.flush();
}

function reportsFor(watch: DemoCheckin, id: number, now: number): NewReport[] {
  const random = randomFrom(id * 104_729);
  const schedule = scheduleOf(watch.schedule);
  const reports: NewReport[] = [];
  const from = { watchId: id, method: 'POST', address: '127.0.0.1' };
  for (
    let due = nextDue(schedule, now - watch.age);
    due !== null && due < now;
    due = nextDue(schedule, due)
  ) {
    const begun = due + Math.floor(random() * 4000);
    const length = Math.floor(watch.runMs * (0.85 + random() * 0.4));
    const fails = random() < watch.fails;
    if (begun + length > now) break;
    if (watch.away.some((a) => now - due <= a.from && now - due > a.to)) continue;
    const run = due.toString(36);
    reports.push({ ...from, at: begun, kind: 'begun', code: null, run, output: null });
    reports.push({
      ...from,
      at: begun + length,
      kind: fails ? 'failed' : 'done',
      code: fails ? 75 : 0,
      run,
      output: fails ? `${watch.name}: the far side was busy, giving up\n` : null,
    });
  }
  return reports;
}

/** The clock runs between two reports: what is missed is noticed when it is due. */
async function tickUntil(replay: Replay, rules: CheckinRules, until: number): Promise<void> {
  for (;;) {
    const at = nextTickOf(replay, rules);
    if (at === null || at >= until) return;
    await replay.apply({ type: 'tick' }, at);
  }
}

async function fillCheckin(
  db: Knex,
  replay: Replay,
  rules: CheckinRules,
  watch: DemoCheckin,
  id: number,
  now: number,
  cursor: number,
) {
  await saveReports(db, reportsFor(watch, id, now));
  let last = cursor;
  for (;;) {
    const reports = await fetchReportsAfter(db, last, 2000);
    if (reports.length === 0) break;
    for (const report of reports) {
      const { at, kind, code, run } = report;
      await tickUntil(replay, rules, at);
      await replay.apply({ type: 'report', report: { at, is: kind, code, run } }, at, {
        reportId: report.id,
      });
      last = report.id;
    }
  }
  await tickUntil(replay, rules, now);
  await replay.flush();
  return last;
}

/** Hands the messages of the past to rooms that took them; one room has not answered of late. */
async function deliverPast(db: Knex, now: number): Promise<void> {
  for (const { id, name } of await fetchChannels(db)) {
    const isLost = (at: number) => name === SILENT_ROOM && at > now - SILENT_FOR_MS;
    for (;;) {
      const waiting = await fetchDueDeliveries(db, id, Number.MAX_SAFE_INTEGER, 500);
      const dues = waiting.filter(({ createdAt }) => !isLost(createdAt));
      if (dues.length === 0) break;
      for (const { id: deliveryId, createdAt } of dues) {
        const at = createdAt + 320;
        await saveAttempts(db, [{ deliveryId, at, ok: true, said: 'taken', state: 'delivered', nextAt: at }]);
      }
    }
  }
}

/** Notes what rests on what, once every watch has its id. */
async function tieTogether(db: Knex, filled: readonly FilledWatch[]): Promise<void> {
  for (const { demo, id } of filled) {
    if (demo.type !== 'probe' || !demo.restsOn) continue;
    const { name, section, restsOn } = demo;
    const ids = restsOn.map((key) => filled.find((other) => other.demo.key === key)!.id);
    await saveWatchChange(db, id, { name, section, config: { ...ownOf(demo), restsOn: ids } });
  }
}

/** Fills ninety days of Tern Island Ferries up to `now`. */
export async function fillDemo(options: FillOptions): Promise<FilledWatch[]> {
  const { db, now, drawings } = options;
  await connectRooms(db, options.harbourPort, now - 90 * DAY_MS);
  await saveShared(db, { level: 'instance' }, { every: EVERY_SECONDS, secondLookGap: 20 });
  const demos = demoWatches(options.harbourPort);
  const recorder = new Recorder(db);
  const filled: FilledWatch[] = [];
  let cursor = 0;
  for (const [i, demo] of demos.entries()) {
    const checkinKey = demo.type === 'checkin' ? newCheckinKey() : null;
    const createdAt = now - demo.age;
    const id = await saveNewWatch(db, {
      kind: demo.type === 'checkin' ? 'checkin' : demo.kind,
      name: demo.name,
      section: demo.section,
      tags: DEMO_TAGS[demo.key] ?? [],
      config: ownOf(demo),
      checkinKey,
      createdAt,
    });
    filled.push({ demo, id, checkinKey });
    const watch = (await fetchWatch(db, id))!;
    const rules = rulesOf(watch.config, ZONE);
    const replay = new Replay(recorder, { ...watch, rules });
    if (demo.type === 'probe') await fillProbe(replay, demo, id, now);
    else if (rules.type === 'checkin') cursor = await fillCheckin(db, replay, rules, demo, id, now, cursor);
    options.onProgress(i + 1, demos.length, demo.name);
  }
  await tieTogether(db, filled);
  await saveShared(
    db,
    { level: 'section', section: WATER },
    { urgency: 'any-hour', runbookNote: 'Ring the harbour office. Where nobody picks up, ring Ines.' },
  );
  await saveFilter(db, 'On the piers', { ...NO_FILTER, tags: ['pier'] });
  await saveFilter(db, 'Not well', { ...NO_FILTER, states: ['slow', 'doubtful', 'overdue', 'down'] });
  await tellPast(db, now, 'Ines');
  await deliverPast(db, now);
  const pictures = drawings === undefined ? NO_PICTURES : await fillPictures(db, drawings, now);
  await fillPage(db, filled, pictures, now);
  await saveRollups(db, now);
  await fillSizes(db, now);
  return filled;
}

/** The database has grown to what it is: what stays does so evenly, what is let go of came in the first days. */
async function fillSizes(db: Knex, now: number): Promise<void> {
  await saveFileSize(db, now);
  const { day, bytes } = (await fetchFileSizes(db, now)).at(-1)!;
  const sizes = Array.from({ length: DAYS_OF_SIZES }, (_, i) => ({
    day: day - (i + 1) * DAY_MS,
    bytes: Math.round(bytes * (1 - (i + 1) * GROWN_A_DAY)),
  }));
  await db('file_sizes').insert(sizes);
}
