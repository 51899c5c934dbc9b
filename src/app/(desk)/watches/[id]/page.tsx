import { formatMs } from '@/core/time/duration';
import { cursorOf } from '@/api/cursor';
import { heardFirst, type Run } from '@/core/reports/runs';
import type { Limits } from '@/core/expect/limits';
import type { WatchConfig } from '@/core/settings/watch-config';
import { watchSentence } from '@/core/history/state-text';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { Ago } from '@/ui/basic/ago';
import { Link } from '@/ui/basic/link';
import { CalmLinePatterns } from '@/ui/charts/calm-line';
import { ReadLine } from '@/ui/charts/read-line';
import { ResponseChart } from '@/ui/charts/response-chart';
import { ReadingChart } from '@/ui/charts/reading-chart';
import { ArrivalStrip } from '@/ui/charts/arrival-strip';
import { RunChart } from '@/ui/charts/run-chart';
import { Choice } from '@/ui/form/choice';
import { JobAdvice } from '@/ui/jobs/job-advice';
import { RunList } from '@/ui/jobs/run-list';
import { EvidenceList } from '@/ui/watch/evidence';
import { HaveIt } from '@/ui/watch/have-it';
import { Ladder } from '@/ui/watch/ladder';
import { Lantern } from '@/ui/basic/lantern';
import { Live } from '@/ui/live/live';
import { TakeAsRight } from '@/ui/watch/take-as-right';
import { TiesCard } from '@/ui/watch/ties';
import { Unreached } from '@/ui/overview/unreached';
import { WatchActions } from '@/ui/watch/watch-actions';
import { FindingList, OutageList } from '@/ui/watch/watch-history';
import { CheckinAddress, DueTimes, HowItDecides, IfItGoesDown, LastLook } from '@/ui/watch/watch-side';
import { kindText } from '@/views/troubles/latest';
import { CHART_RANGES, fetchWatchView, FIRST_RUNS, type ChartRange } from '@/views/watch/watch';
import { Time } from '@/ui/form/zone';
import { requestBase, requireRight } from '@/app/session';
import { watchOfPath } from '@/app/watch-of';

const RANGE_TEXTS: Record<ChartRange, string> = {
  '24h': '24 h',
  '7d': '7 d',
  '30d': '30 d',
  '90d': '90 d',
  '1y': '1 y',
};

interface WatchPageProps {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ range?: string }>;
}

function limitsOf(config: WatchConfig): Limits {
  const none = { failLow: null, warnLow: null, warnHigh: null, failHigh: null };
  return config.type === 'probe' ? { ...none, ...(config.settings as Partial<Limits>) } : none;
}

/** Where the runs behind the first go on; null where these are all. */
function runsBehind(runs: readonly Run[]): string | null {
  const last = runs.at(-1);
  return last && runs.length === FIRST_RUNS ? cursorOf([heardFirst(last), last.firstId]) : null;
}

export default async function WatchPage({ params, searchParams }: WatchPageProps) {
  await requireRight('look');
  const watch = await watchOfPath((await params).id);
  const asked = (await searchParams).range;
  const range: ChartRange = asked && asked in CHART_RANGES ? (asked as ChartRange) : '7d';
  const { db, environment, mailEndpoint } = serverContext();
  const view = await fetchWatchView(db, watch, { range, now: requestTime(), zone: environment.zone });
  const { status, config, lastFinding } = watch;
  const { domain: mailDomain } = await mailEndpoint.state();
  const probe = config.type === 'probe';
  const sentence = watchSentence(
    watch.name,
    status.state,
    Boolean(status.warned),
    probe && status.lastAt !== null,
  );
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-[minmax(0,1fr)_23rem]">
      <Live source="/live" readAt={view.now} watchId={watch.id} />
      <CalmLinePatterns />
      <div className="flex min-w-0 flex-col gap-4">
        <div>
          <p className="text-muted truncate text-[0.875rem]">
            {[watch.section, kindText(watch), view.target].filter(Boolean).join(' · ')}
          </p>
          <h1 className="flex items-start gap-2.5">
            <span className="mt-1.5">
              <Lantern state={status.state} size={26} />
            </span>
            <span>
              {sentence.words}
              {sentence.hasLength && <Ago since={status.since} now={view.now} suffix="." />}
            </span>
          </h1>
          {view.trouble && (
            <div className="mt-2">
              <p className="text-[1rem] font-semibold">{view.trouble.sentence}</p>
              <p className="text-muted">{view.trouble.advice}</p>
              {view.jobs?.lastGood && (
                <p className="text-muted">
                  The last good run ended <Time at={view.jobs.lastGood.ended!} as="moment" />
                  {view.jobs.lastGood.ms !== null && `, after ${formatMs(view.jobs.lastGood.ms)}`}.
                </p>
              )}
              <Ladder rungs={view.trouble.ladder} notes />
              {view.ties.follows && (
                <p>
                  It follows from{' '}
                  <Link href={`/watches/${view.ties.follows.id}`} className="underline">
                    {view.ties.follows.name}
                  </Link>
                  , so nobody was told of it by itself.
                </p>
              )}
              {lastFinding?.cause === 'record.changed' && <TakeAsRight watchId={watch.id} />}
            </div>
          )}
          <p className="text-muted my-2">
            {status.lastAt === null ? (
              probe ? (
                'Not looked at yet'
              ) : (
                'Never heard of yet'
              )
            ) : (
              <>
                {probe ? 'Last looked ' : 'Last heard of '}
                <Ago since={status.lastAt} now={view.now} suffix=" ago" />
              </>
            )}
            {probe &&
              lastFinding &&
              lastFinding.verdict !== 'failed' &&
              `, fine in ${formatMs(lastFinding.ms)}`}
            . {view.unseen} {view.knowWithin}
          </p>
          <WatchActions
            watchId={watch.id}
            name={watch.name}
            paused={watch.paused}
            probe={probe}
            under={status.state === 'maintenance'}
            goesWith={view.goesWith}
          />
        </div>
        {view.taken && <HaveIt watchId={watch.id} taken={view.taken.by} />}
        {view.unheard && <Unreached unheard={{ count: 1, first: [watch] }} watches={1} />}
        <dl className="flex flex-wrap gap-x-8 gap-y-2">
          {view.uptimes.map((uptime) => (
            <div key={uptime.label} className="flex flex-col-reverse">
              <dt className="text-muted text-[0.8438rem]">{uptime.label}</dt>
              <dd className="figures text-[1.35rem]">{uptime.text}</dd>
            </div>
          ))}
        </dl>
        <div>
          <ReadLine
            line={view.history.line}
            range={view.lineRange}
            label={`Last 90 days: ${view.history.words}.`}
          />
          <p className="text-muted flex justify-between text-[0.8125rem]">
            <span>90 days ago{view.since !== null && `; watched since ${view.since}`}</span>
            <span>now</span>
          </p>
        </div>
        {view.readings && (
          <section className="sheet p-4">
            <h2 className="mb-2">What it read</h2>
            <ReadingChart
              range={view.chart.range}
              bands={view.chart.bands}
              points={view.readings}
              unit={view.unit}
              limits={limitsOf(config)}
            />
          </section>
        )}
        <section className="sheet p-4">
          <div className="mb-2 flex flex-wrap items-baseline gap-x-3 gap-y-1">
            <h2>How long it takes</h2>
            <p className="text-muted text-[0.875rem]">
              {probe
                ? 'half stay under the line, 95 of 100 inside the band'
                : 'each run on the line, what was usual before it as the band'}
            </p>
            <div className="ml-auto">
              <Choice
                label="Range of the chart"
                options={(Object.keys(CHART_RANGES) as ChartRange[]).map((r) => ({
                  href: `/watches/${watch.id}?range=${r}`,
                  text: RANGE_TEXTS[r],
                  chosen: r === range,
                }))}
              />
            </div>
          </div>
          {config.type === 'checkin' ? (
            <RunChart
              range={view.chart.range}
              points={view.jobs?.points ?? []}
              bands={view.chart.bands}
              longestRun={config.longestRun}
            />
          ) : (
            <ResponseChart {...view.chart} slowAfter={config.slowAfter} />
          )}
        </section>
        {config.type === 'checkin' && view.jobs && view.jobs.arrivals.length > 0 && (
          <section className="sheet p-4">
            <h2 className="mb-2">Due times and arrivals</h2>
            <ArrivalStrip arrivals={view.jobs.arrivals} leeway={config.leeway} />
          </section>
        )}
        <OutageList view={view} />
        <EvidenceList kept={view.evidence} now={view.now} />
        {view.jobs ? (
          <RunList watchId={watch.id} runs={view.runs} limit={FIRST_RUNS} cursor={runsBehind(view.runs)} />
        ) : (
          <FindingList view={view} />
        )}
      </div>
      <aside className="flex min-w-0 flex-col gap-4">
        {probe ? (
          <LastLook watch={watch} now={view.now} />
        ) : (
          <>
            <CheckinAddress
              watch={watch}
              base={await requestBase()}
              sectionSecret={view.sectionSecret}
              mailDomain={mailDomain}
              now={view.now}
            />
            <DueTimes dues={view.dues} />
            {config.type === 'checkin' && view.jobs && (
              <JobAdvice
                watchId={watch.id}
                leeway={config.leeway}
                longestRun={config.longestRun}
                suggested={view.jobs}
              />
            )}
          </>
        )}
        <IfItGoesDown foretold={view.foretold} unheard={view.unheard} runbook={view.runbook} />
        <HowItDecides view={view} watchId={watch.id} />
        <TiesCard ties={view.ties} />
      </aside>
    </div>
  );
}
