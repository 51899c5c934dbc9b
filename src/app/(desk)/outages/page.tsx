import Link from 'next/link';
import { formatDuration, formatExactDuration } from '@/core/time/duration';
import { troubleSentence } from '@/core/causes/ladder-text';
import { capitalise, numberWord } from '@/core/text/words';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchTakers } from '@/store/messages/telling';
import { fetchOutages, fetchTold } from '@/store/history/outages';
import { fetchIncidentsOfOutages } from '@/store/pages/incidents';
import { fetchWatchNames } from '@/store/watches/watch-facts';
import { Ago } from '@/ui/basic/ago';
import { Live } from '@/ui/live/live';
import { Time } from '@/ui/form/zone';
import { needsSeconds } from '@/core/time/clock-text';
import { requireRight } from '@/app/session';
import { ToldPublicly } from '@/ui/pages/told-publicly';
import { Table } from '@/ui/basic/table';

export const metadata = { title: 'Outages' };

const MOST_SHOWN = 100;

export default async function Outages() {
  await requireRight('look');
  const { db } = serverContext();
  const now = requestTime();
  const outages = await fetchOutages(db, {}, { limit: MOST_SHOWN });
  const told = await fetchTold(
    db,
    outages.map((outage) => outage.id),
  );
  const incidents = await fetchIncidentsOfOutages(
    db,
    outages.map((outage) => outage.id),
  );
  const names = await fetchWatchNames(
    db,
    outages.flatMap(({ watchId, follows }) => [watchId, ...(follows === null ? [] : [follows])]),
  );
  const ongoing = outages.filter((outage) => outage.ended === null);
  const open = ongoing.length;
  const takers = await fetchTakers(
    db,
    ongoing.map((outage) => outage.watchId),
  );
  return (
    <div className="flex flex-col gap-5">
      <Live source="/live" readAt={now} />
      <h1>
        {open === 0
          ? 'Nothing is down.'
          : `${capitalise(numberWord(open))} ${open === 1 ? 'outage is' : 'outages are'} not over.`}
      </h1>
      {outages.length === 0 ? (
        <p className="sheet text-muted max-w-2xl p-6">
          An outage is one stretch of a watch being down: when it began, when it was noticed, when it ended,
          why, and who was told. The first one will stand here.
        </p>
      ) : (
        <div className="sheet overflow-x-auto px-4 py-2">
          <Table
            className="rows"
            cards
            heads={[
              ['began', 'py-1.5 pr-4'],
              ['length', 'pr-4'],
              ['watch', 'pr-4'],
              ['why', 'pr-4'],
              ['noticed after', 'pr-4'],
              ['told'],
            ]}
          >
            {outages.map((outage) => (
              <tr
                key={outage.id}
                // On a phone each outage is a small card: name and length, why, when.
                className="border-rule border-t align-top max-sm:first:border-t-0 max-sm:grid max-sm:grid-cols-[minmax(0,1fr)_auto] max-sm:gap-x-3 max-sm:py-1.5 max-sm:[&>td]:py-0.5"
              >
                <td className="figures pr-4 text-[0.8438rem] whitespace-nowrap max-sm:order-3">
                  <Time
                    at={outage.began}
                    as={
                      outage.ended !== null && needsSeconds(outage.began, outage.ended) ? 'exact' : 'moment'
                    }
                  />
                </td>
                <td className="figures pr-4 text-[0.8438rem] whitespace-nowrap max-sm:order-1 max-sm:pr-0 max-sm:text-right">
                  {outage.ended === null ? (
                    <span className="text-down-text">
                      <Ago since={outage.began} now={now} suffix=" so far" />
                    </span>
                  ) : (
                    formatExactDuration(outage.ended - outage.began)
                  )}
                </td>
                <td className="pr-4 max-sm:order-first">
                  <Link href={`/watches/${outage.watchId}`} className="font-medium">
                    {names.get(outage.watchId)}
                  </Link>
                </td>
                <td className="pr-4 max-sm:order-2 max-sm:col-span-2">
                  {troubleSentence(outage.cause, outage.detail, outage.evidence?.walk ?? [])}
                  {outage.follows !== null && (
                    <span className="text-muted block text-[0.8438rem]">
                      followed from {names.get(outage.follows) ?? 'a watch that is gone'}
                    </span>
                  )}
                </td>
                <td className="figures pr-4 text-[0.8438rem] whitespace-nowrap max-sm:hidden">
                  {formatDuration(outage.noticed - outage.began)}
                </td>
                <td className="text-muted max-sm:order-4 max-sm:col-span-2 max-sm:text-[0.8438rem]">
                  {told.get(outage.id)?.join(', ') ?? 'nobody'}
                  {outage.ended === null && takers.has(outage.watchId) && (
                    <span className="text-muted"> · {takers.get(outage.watchId)} has it</span>
                  )}
                  <span className="block text-[0.8438rem]">
                    <ToldPublicly outageId={outage.id} incident={incidents.get(outage.id)} />
                  </span>
                </td>
              </tr>
            ))}
          </Table>
        </div>
      )}
    </div>
  );
}
