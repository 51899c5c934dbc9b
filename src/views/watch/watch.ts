import { DAY_MS, HOUR_MS } from '@/core/time/units';
import { formatUptime, outageFigures } from '@/core/history/availability';
import type { Stretch } from '@/core/history/availability';
import type { Span } from '@/core/history/spans';
import { coarseLine } from '@/core/history/calm-line';
import type { Evidence } from '@/core/causes/finding';
import { troubleSentence } from '@/core/causes/ladder-text';
import { formatDuration } from '@/core/time/duration';
import { knowWithinSentence } from '@/core/lifecycle/foresight';
import { chartPoints, type ChartPoint } from '@/core/history/response-chart';
import { nextDues } from '@/core/schedule/schedule';
import { figureSpans, observedText, sinceText } from '@/core/history/since-text';
import { unseenText } from '@/core/history/state-text';
import { rulesOf, scheduleOf } from '@/core/settings/watch-config';
import { probeKind } from '@/probes/kinds/registry';
import { targetText } from '@/probes/diagnosis/watch-target';
import { fetchForetold } from '@/views/messages/foretold';
import { threadOf } from '@/core/telling/happen';
import type { Taken } from '@/core/telling/telling';
import { fetchThread } from '@/store/messages/telling';
import type { Db } from '@/store/db/connection';
import { fetchFindings, fetchTimes, type KeptFinding } from '@/store/history/findings';
import { fetchEvidence, type KeptEvidence } from '@/store/history/evidence';
import { fetchOutages, fetchTold } from '@/store/history/outages';
import { fetchIncidentsOfOutages } from '@/store/pages/incidents';
import { fetchPages } from '@/store/pages/pages';
import { goesWithSentence } from '@/views/troubles/goes-with';
import { fetchSectionEndpoints } from '@/store/watches/checkin-endpoints';
import { fetchColumns } from '@/views/history/columns';
import { fetchRollupCursor } from '@/store/history/rollups';
import { fetchNamed } from '@/store/watches/tied';
import type { WatchWithStatus } from '@/store/watches/watches';
import { fetchRunsView, type RunsView } from '@/views/history/runs';
import type { Run } from '@/core/reports/runs';
import { fetchRuns } from '@/views/history/run-pages';
import { fetchReadings, type ReadingPoint } from '@/views/history/readings';
import { fetchTies, type WatchTies } from './ties';
import { drawnLine, fetchHistory, lastDays, type DrawnLine } from '@/views/history/history';
import { isSilent, needsHand } from '@/core/lifecycle/wants-hand';
import { troubleOf, type Trouble } from '@/views/troubles/trouble';

export const CHART_RANGES = { '24h': 1, '7d': 7, '30d': 30, '90d': 90, '1y': 365 } as const;
export type ChartRange = keyof typeof CHART_RANGES;

const COLUMN_MS: Record<ChartRange, number> = {
  '24h': HOUR_MS / 4,
  '7d': HOUR_MS,
  '30d': 6 * HOUR_MS,
  '90d': 12 * HOUR_MS,
  '1y': 48 * HOUR_MS,
};

/** So many runs stand there at once; more come as one scrolls. */
export const FIRST_RUNS = 40;

const MOST_DUES = 5;

/** So many outages are listed; all are counted. */
const MOST_OUTAGES = 50;

export interface WatchView {
  now: number;
  uptimes: { label: string; text: string }[];
  /** When it was made, where that is within the 90 days of its line; else null. */
  since: string | null;
  history: DrawnLine;
  lineRange: { from: number; to: number };
  /** How much of its state nobody saw, in words. */
  unseen: string;
  chart: { range: { from: number; to: number }; points: ChartPoint[]; bands: Stretch[] };
  outages: {
    id: number;
    watchId: number;
    began: number;
    noticed: number;
    ended: number | null;
    sentence: string;
    evidence: Evidence | null;
    /** The watch it followed from. */
    follows: string | null;
    leftOut: string | null;
    told: string[];
    /** What the public was told of it. */
    incident: { id: number; title: string } | undefined;
  }[];
  outageSummary: string;
  /** Older ones of the ninety days, which are counted and not listed. */
  moreOutages: number;
  trouble: Trouble | null;
  /** What was seen when looks first failed, or failed in a new way; the newest first. */
  evidence: KeptEvidence[];
  ties: WatchTies;
  /** What is looked at, or when a job is expected. */
  target: string;
  /** What goes with it when it is deleted. */
  goesWith: string;
  /** What was read, for a watch that reads a number. */
  readings: ReadingPoint[] | null;
  unit: string;
  findings: KeptFinding[];
  /** For a job that reports. */
  jobs: RunsView | null;
  /** Its last runs, the newest first. */
  runs: Run[];
  sectionSecret: string | null;
  /** Who would be told if it went down now, in words. */
  foretold: string;
  /** What is to be done when it is down; empty for nothing. */
  runbook: { link: string; note: string };
  unheard: boolean;
  /** Who has its open trouble; null where none is told. */
  taken: { by: Taken | null } | null;
  knowWithin: string;
  decides: string;
  dues: number[];
  silent: boolean;
}

/** Everything a watch's own screen shows. */
export async function fetchWatchView(
  db: Db,
  watch: WatchWithStatus,
  options: { range: ChartRange; now: number; zone: string },
): Promise<WatchView> {
  const { now, zone } = options;
  const history = (await fetchHistory(db, [watch], 90, now)).get(watch.id)!;
  const { outages } = history;
  const range = lastDays(now, 90);
  const line = history.line(range);
  const since = now - 90 * DAY_MS;
  const listed = await fetchOutages(db, { watchId: watch.id }, { since, limit: MOST_OUTAGES });
  const told = await fetchTold(
    db,
    listed.map((outage) => outage.id),
  );
  const incidents = await fetchIncidentsOfOutages(
    db,
    listed.map((outage) => outage.id),
  );
  const thread = await fetchThread(db, threadOf(watch.id));
  const foretold = await fetchForetold(db, watch, now);
  const chartRange = lastDays(now, CHART_RANGES[options.range]);
  const rules = rulesOf(watch.config, zone);
  const open = listed.find((outage) => outage.ended === null);
  const { config } = watch;
  const kept = await fetchEvidence(db, watch.id, { limit: 10 });
  const followed = listed.flatMap(({ follows }) => (follows === null ? [] : [follows]));
  const names = new Map((await fetchNamed(db, followed)).map(({ id, name }) => [id, name]));
  const ties = await fetchTies(db, watch, open?.follows);
  const reading = watch.lastFinding?.evidence?.reading;
  const hasReading = watch.kind === 'reading';
  return {
    now,
    uptimes: figureSpans(watch.createdAt, now, zone, [1, 7, 30, 90]).map(({ from, to, label }) => {
      const { uptime, observedMs } = history.availability({ from, to });
      const observed = observedText(observedMs, to - from);
      return { label: observed === '' ? label : `${label}, ${observed}`, text: formatUptime(uptime) };
    }),
    since: now - watch.createdAt < 90 * DAY_MS ? sinceText(watch.createdAt, now, zone) : null,
    history: drawnLine(line, range),
    lineRange: range,
    unseen: watch.status.state === 'waiting' ? '' : unseenText(history.unseen, watch.status.since, now),
    chart: {
      range: chartRange,
      points: await fetchPoints(db, watch.id, chartRange, COLUMN_MS[options.range]),
      bands: coarseLine(history.line(chartRange), chartRange).filter(
        (s) => s.kind === 'down' || s.kind === 'maintenance',
      ),
    },
    evidence: kept,
    outages: listed.map((outage) => ({
      id: outage.id,
      watchId: outage.watchId,
      began: outage.began,
      noticed: outage.noticed,
      ended: outage.ended,
      sentence: troubleSentence(outage.cause, outage.detail, outage.evidence?.walk ?? []),
      evidence: outage.evidence,
      follows: names.get(outage.follows ?? 0) ?? null,
      leftOut: outage.leftOut,
      told: told.get(outage.id) ?? [],
      incident: incidents.get(outage.id),
    })),
    outageSummary: outageSummary(
      history.counted,
      history.availability(range).downMs,
      Math.min(90 * DAY_MS, now - watch.createdAt),
      now,
    ),
    moreOutages: outages.length - listed.length,
    trouble: needsHand(watch, now) ? troubleOf(watch, open, kept.at(0), zone) : null,
    ties,
    target: targetText(watch),
    goesWith: goesWithSentence(watch, ties, await fetchPages(db), outages.length),
    readings: hasReading ? await fetchReadings(db, watch.id, chartRange, COLUMN_MS[options.range]) : null,
    unit: reading?.unit ?? '',
    findings: await fetchFindings(db, watch.id, { limit: 25 }),
    jobs: config.type === 'checkin' ? await fetchRunsView(db, watch, now) : null,
    runs: config.type === 'checkin' ? await fetchRuns(db, watch, { limit: FIRST_RUNS }) : [],
    sectionSecret: watch.section
      ? ((await fetchSectionEndpoints(db)).get(watch.section)?.secret ?? null)
      : null,
    foretold: foretold.sentence,
    unheard: foretold.said.length === 0,
    runbook: { link: config.runbook ?? '', note: config.runbookNote ?? '' },
    taken: thread?.open ? { by: thread.taken } : null,
    // While it is down, it is known.
    knowWithin: watch.status.outage ? '' : knowWithinSentence(rules),
    decides: decidesSentence(watch),
    dues: duesOf(watch, now),
    silent: isSilent(watch, now),
  };
}

async function fetchPoints(db: Db, watchId: number, range: { from: number; to: number }, widthMs: number) {
  const cursor = await fetchRollupCursor(db);
  // Short ranges are answered from single looks: their columns are narrower than an hour.
  const from = widthMs < HOUR_MS ? range.from : Math.max(range.from, cursor);
  const rollups = from > range.from ? await fetchColumns(db, watchId, range.from, from, widthMs) : [];
  return chartPoints(range, widthMs, rollups, await fetchTimes(db, watchId, from, range.to));
}

/** When a job is due, the time it is waited for first; none for one whose time is counted from a first check-in. */
function duesOf({ config, status }: WatchWithStatus, now: number): number[] {
  if (config.type !== 'checkin') return [];
  const schedule = scheduleOf(config.schedule);
  if (status.due !== null) return [status.due, ...nextDues(schedule, status.due, MOST_DUES - 1)];
  return schedule.type === 'period' ? [] : nextDues(schedule, now, MOST_DUES);
}

/**
 * What outages come to, in words. Their lengths may add up to more than what counts as downtime: time that was planned,
 * or in which nobody looked, is in them and does not count.
 */
function outageSummary(outages: readonly Span[], downMs: number, spanMs: number, now: number): string {
  const figures = outageFigures({ from: now - spanMs, to: now }, outages);
  const span = spanMs < 90 * DAY_MS ? formatDuration(spanMs) : '90 days';
  if (figures.count === 0) return `none in ${span}`;
  const uncounted = figures.totalMs - downMs;
  const apart =
    uncounted < 1000
      ? ''
      : `, ${formatDuration(uncounted)} of it planned or not observed, which does not count`;
  const between =
    figures.meanBetweenMs === null
      ? ''
      : `; from the end of one to the beginning of the next ${formatDuration(figures.meanBetweenMs)} on average`;
  return `${figures.count} in ${span}, ${formatDuration(figures.totalMs)} in all${apart}${between}`;
}

function decidesSentence(watch: WatchWithStatus): string {
  const { config } = watch;
  if (config.type === 'checkin') {
    const longest =
      config.longestRun === null ? '' : ` A run may take ${formatDuration(config.longestRun * 1000)}.`;
    return `A check-in may be ${formatDuration(config.leeway * 1000)} late.${longest} A failed run counts at once.`;
  }
  const kind = probeKind(watch.kind);
  const slow = config.slowAfter === null ? '' : ` Slow over ${config.slowAfter} ms.`;
  const looks =
    config.secondLooks === 0
      ? ' The first failed look counts.'
      : ` ${config.secondLooks} second ${config.secondLooks === 1 ? 'look' : 'looks'}, ${formatDuration(config.secondLookGap * 1000)} apart.`;
  return `${kind?.verdictSentence(config.settings, config.timeout * 1000) ?? ''}${looks}${slow}`;
}
