import { notFound } from 'next/navigation';
import { requireRight } from '@/app/session';
import { readDrill, type DrillReport } from '@/cases/messages/drills';
import { ruleInWords } from '@/core/telling/rule-words';
import { formatDuration } from '@/core/time/duration';
import { SECOND_MS } from '@/core/time/units';
import { capitalise, numberWord } from '@/core/text/words';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { Link } from '@/ui/basic/link';
import { Time } from '@/ui/form/zone';
import { Live } from '@/ui/live/live';
import { EndDrill } from '@/ui/messages/end-drill';
import { Crumbs } from '@/ui/basic/crumbs';

export const metadata = { title: 'A drill' };

function tookWords(ms: number): string {
  return ms < SECOND_MS ? 'within a second' : `after ${formatDuration(ms)}`;
}

function leadingSentence({ deliveries, ended }: DrillReport): string {
  if (deliveries.length === 0) return ended === null ? 'Nobody was told yet.' : 'Nobody was told.';
  const arrived = deliveries.filter(({ state }) => state === 'delivered');
  const slowest = Math.max(...arrived.map((one) => one.arrived! - one.said));
  if (arrived.length < deliveries.length) {
    return `${capitalise(numberWord(arrived.length))} of ${numberWord(deliveries.length)} messages arrived.`;
  }
  return `${deliveries.length === 1 ? 'The one message' : `All ${numberWord(deliveries.length)} messages`} arrived, the slowest ${tookWords(slowest)}.`;
}

const STATES = { waiting: 'on its way', delivered: 'arrived', 'given-up': 'given up' };

export default async function DrillPage({ params }: { params: Promise<{ id: string }> }) {
  await requireRight('look');
  const { db } = serverContext();
  const { id } = await params;
  const report = /^[1-9]\d{0,14}$/.test(id) ? await readDrill(db, Number(id)) : null;
  if (!report) notFound();
  const { watches, began, until, ended, by, deliveries, taken } = report;
  return (
    <div className="flex flex-col gap-5">
      {ended === null && <Live source="/live" readAt={requestTime()} />}
      <div>
        <Crumbs to={[{ href: '/messages/drills', text: 'Drills' }]} />
        <h1>{leadingSentence(report)}</h1>
        <p className="text-muted mt-1.5">
          Begun <Time at={began} /> ({by}), about {watches.map(({ name }) => name).join(' · ')}.{' '}
          {ended === null ? (
            <>
              It ends by itself: <Time at={until} />.
            </>
          ) : (
            <>
              It ended: <Time at={ended} />.
            </>
          )}
        </p>
        {taken.map((one) => (
          <p key={one.watch} className="mt-1.5">
            {one.by} has {one.watch} since <Time at={one.at} />.
          </p>
        ))}
      </div>
      {ended === null && (
        <div>
          <EndDrill id={report.id} />
        </div>
      )}
      <section className="sheet overflow-x-auto px-5 py-4" aria-label="What it sent" tabIndex={0}>
        {deliveries.length === 0 ? (
          <p className="text-muted">
            No route told anybody of it. Look at who hears of these watches, or wait for the first step.
          </p>
        ) : (
          <table className="w-full text-left text-[0.875rem]">
            <thead className="text-muted">
              <tr>
                <th className="py-1.5 pr-5 font-normal">said</th>
                <th className="pr-5 font-normal">message</th>
                <th className="pr-5 font-normal">to</th>
                <th className="hidden pr-5 font-normal sm:table-cell">because</th>
                <th className="font-normal">came to</th>
              </tr>
            </thead>
            <tbody>
              {deliveries.map((one) => (
                <tr key={one.id} className="border-rule border-t align-top">
                  <td className="figures py-1.5 pr-5 whitespace-nowrap">
                    {one.said - began < SECOND_MS ? 'at once' : `+${formatDuration(one.said - began)}`}
                  </td>
                  <td className="py-1.5 pr-5">
                    <Link href={`/messages/sent/${one.id}`}>{one.title}</Link>
                  </td>
                  <td className="py-1.5 pr-5">{one.channel}</td>
                  <td className="text-muted hidden py-1.5 pr-5 sm:table-cell">
                    {one.rule ? ruleInWords(one.rule) : ''}
                  </td>
                  <td className="py-1.5">
                    <span className={one.state === 'given-up' ? 'text-down-text font-semibold' : ''}>
                      {STATES[one.state]}
                    </span>
                    <span className="text-muted">
                      {one.arrived !== null && ` ${tookWords(one.arrived - one.said)}`}
                      {one.lastSaid !== null && `: ${one.lastSaid}`}
                    </span>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </section>
    </div>
  );
}
