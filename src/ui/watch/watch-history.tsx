import { causeSentence } from '@/core/causes/causes';
import { LeaveOut } from './leave-out';
import { Link } from '@/ui/basic/link';
import { ToldPublicly } from '@/ui/pages/told-publicly';
import { needsSeconds } from '@/core/time/clock-text';
import { readingText } from '@/core/expect/limits';
import { formatDuration, formatExactDuration, formatMs } from '@/core/time/duration';
import type { WatchView } from '@/views/watch/watch';
import { Time } from '@/ui/form/zone';
import { Table } from '@/ui/basic/table';

type Listed = Pick<WatchView['outages'][number], 'began' | 'ended'>;

/** Seconds are shown where minutes do not tell an outage's ends apart, or it from its neighbours. */
function asFormat(outage: Listed, all: readonly Listed[]): 'exact' | 'moment' {
  const short = outage.ended !== null && needsSeconds(outage.began, outage.ended);
  const minute = Math.floor(outage.began / 60_000);
  const twin = all.some((other) => other !== outage && Math.floor(other.began / 60_000) === minute);
  return short || twin ? 'exact' : 'moment';
}

export function OutageList({ view }: { view: WatchView }) {
  return (
    <section className="sheet p-4">
      <h2 className="inline">Outages</h2>{' '}
      <span className="text-muted ml-2 text-[0.875rem]">{view.outageSummary}</span>
      {view.outages.length === 0 && (
        <p className="text-muted mt-2">
          When it goes down, each outage stands here with its cause and its exact length.
        </p>
      )}
      <ol className="mt-1">
        {view.outages.map((outage) => (
          <li
            key={outage.id}
            className="border-rule grid gap-x-4 border-t py-2 sm:grid-cols-[10.5rem_7rem_minmax(0,1fr)]"
          >
            <span className="figures text-[0.8438rem]">
              <Time at={outage.began} as={asFormat(outage, view.outages)} />
            </span>
            <span className="figures text-[0.8438rem]">
              {outage.ended === null ? (
                <span className="text-down-text">not over</span>
              ) : (
                formatExactDuration(outage.ended - outage.began)
              )}
            </span>
            <span>
              {outage.sentence}
              <span className="text-muted block text-[0.8438rem]">
                noticed after {formatDuration(outage.noticed - outage.began)}
                {outage.ended !== null && (
                  <>
                    {' '}
                    · ended <Time at={outage.ended} as={asFormat(outage, view.outages)} />
                  </>
                )}
                {outage.told.length > 0 && <> · told {outage.told.join(', ')}</>}
                {outage.follows && <> · followed from {outage.follows}</>}
                {outage.leftOut !== null && <> · left out of the figures: {outage.leftOut}</>} ·{' '}
                <ToldPublicly outageId={outage.id} incident={outage.incident} /> ·{' '}
                <LeaveOut outageId={outage.id} leftOut={outage.leftOut !== null} />
              </span>
            </span>
          </li>
        ))}
      </ol>
      {view.moreOutages > 0 && (
        <p className="text-muted border-rule border-t pt-2 text-[0.875rem]">
          The newest stand here.{' '}
          <Link href={`/outages?watch=${view.outages[0]!.watchId}`}>All outages of this watch</Link>:{' '}
          {view.moreOutages} of the last 90 days are older.
        </p>
      )}
    </section>
  );
}

export function FindingList({ view }: { view: WatchView }) {
  return (
    <section className="sheet p-4">
      <h2>The last findings</h2>
      {view.findings.length === 0 ? (
        <p className="text-muted mt-1">None yet.</p>
      ) : (
        <Table
          className="rows mt-1 text-[0.875rem]"
          heads={[['when', 'py-1'], ['finding'], ['took', 'text-right']]}
        >
          {view.findings.map((finding) => (
            <tr key={finding.at} className="border-rule border-t align-top">
              <td className="figures pr-4 whitespace-nowrap">
                <Time at={finding.at} as="seconds" />
              </td>
              <td className={finding.verdict === 'failed' ? 'text-down-text' : ''}>
                {finding.verdict}
                {finding.value !== null && ` (${readingText(finding.value, view.unit)})`}
                {finding.cause && `: ${causeSentence(finding.cause, finding.detail ?? {})}`}
              </td>
              <td className="figures text-right whitespace-nowrap">
                {finding.ms === null ? '–' : formatMs(finding.ms)}
              </td>
            </tr>
          ))}
        </Table>
      )}
    </section>
  );
}
