'use client';

import { needsSeconds } from '@/core/time/clock-text';
import { formatDuration, formatExactDuration } from '@/core/time/duration';
import { Link } from '@/ui/basic/link';
import type { OutageLine } from '@/views/outages/outage-lines';
import { Ago } from '@/ui/basic/ago';
import { EndlessBody } from '@/ui/lists/endless-body';
import { Table } from '@/ui/basic/table';
import { useGathered } from '@/ui/lists/use-endless';
import { Time } from '@/ui/form/zone';
import { ToldPublicly } from '@/ui/pages/told-publicly';

type WireOutage = Omit<OutageLine, 'began' | 'noticed' | 'ended'> & {
  beganAt: string;
  noticedAt: string;
  endedAt: string | null;
};

const outageOf = ({ beganAt, noticedAt, endedAt, ...rest }: WireOutage): OutageLine => ({
  ...rest,
  began: Date.parse(beganAt),
  noticed: Date.parse(noticedAt),
  ended: endedAt === null ? null : Date.parse(endedAt),
});

const placeOf = ({ began, id }: OutageLine) => [began, id] as const;

function OutageRow({ outage, now, place }: { outage: OutageLine; now: number; place: number }) {
  const { began, noticed, ended, follows } = outage;
  return (
    <tr
      aria-rowindex={place}
      // On a phone each outage is a small card: name and length, why, when.
      className="border-rule border-t align-top max-sm:first:border-t-0 max-sm:grid max-sm:grid-cols-[minmax(0,1fr)_auto] max-sm:gap-x-3 max-sm:py-1.5 max-sm:[&>td]:py-0.5"
    >
      <td className="figures pr-4 text-[0.8438rem] whitespace-nowrap max-sm:order-3">
        <Time at={began} as={ended !== null && needsSeconds(began, ended) ? 'exact' : 'moment'} />
      </td>
      <td className="figures pr-4 text-[0.8438rem] whitespace-nowrap max-sm:order-1 max-sm:pr-0 max-sm:text-right">
        {ended === null ? (
          <span className="text-down-text">
            <Ago since={began} now={now} suffix=" so far" />
          </span>
        ) : (
          formatExactDuration(ended - began)
        )}
      </td>
      <td className="pr-4 max-sm:order-first">
        <Link href={`/watches/${outage.watchId}`} className="font-medium">
          {outage.watch}
        </Link>
      </td>
      <td className="pr-4 max-sm:order-2 max-sm:col-span-2">
        {outage.sentence}
        {follows && (
          <span className="text-muted block text-[0.8438rem]">
            followed from {follows.name || 'a watch that is gone'}
          </span>
        )}
      </td>
      <td className="figures pr-4 text-[0.8438rem] whitespace-nowrap max-sm:hidden">
        {formatDuration(noticed - began)}
      </td>
      <td className="text-muted max-sm:order-4 max-sm:col-span-2 max-sm:text-[0.8438rem]">
        {outage.told.length > 0 ? outage.told.join(', ') : 'nobody'}
        {outage.takenBy !== null && ` · ${outage.takenBy} has it`}
        <span className="block text-[0.8438rem]">
          <ToldPublicly outageId={outage.id} incident={outage.incident} />
        </span>
      </td>
    </tr>
  );
}

interface OutageTableProps {
  /** The first of them. */
  outages: readonly OutageLine[];
  all: number;
  /** Where those behind the first begin; null where there are none. */
  from: string | null;
  now: number;
}

/** Outages, the newest first; the older ones come as one scrolls, and go on where they were when newer ones come. */
export function OutageTable({ outages: read, all, from, now }: OutageTableProps) {
  const outages = useGathered(read, placeOf);
  return (
    <Table
      className="rows"
      cards
      rowCount={all + 1}
      heads={[
        ['began', 'py-1.5 pr-4'],
        ['length', 'pr-4'],
        ['watch', 'pr-4'],
        ['why', 'pr-4'],
        ['noticed after', 'pr-4'],
        ['told'],
      ]}
      more={
        <EndlessBody<WireOutage, OutageLine>
          from={from}
          rowOf={outageOf}
          draw={(outage, i) => (
            <OutageRow key={outage.id} outage={outage} now={now} place={outages.length + i + 2} />
          )}
        />
      }
    >
      {outages.map((outage, i) => (
        <OutageRow key={outage.id} outage={outage} now={now} place={i + 2} />
      ))}
    </Table>
  );
}
