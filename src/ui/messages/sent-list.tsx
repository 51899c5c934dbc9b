'use client';

import type { KeptDelivery } from '@/store/messages/sent';
import { Link } from '@/ui/basic/link';
import { EndlessBody } from '@/ui/lists/endless-body';
import { Table } from '@/ui/basic/table';
import { useGathered } from '@/ui/lists/use-endless';
import { Time } from '@/ui/form/zone';
import { OUTCOME_TEXT } from './outcome-text';

/** What a row shows of a delivery. */
export type SentRow = Pick<
  KeptDelivery,
  'id' | 'channel' | 'title' | 'state' | 'attempts' | 'lastSaid' | 'createdAt'
>;
type WireDelivery = Omit<SentRow, 'createdAt'> & { createdAt: string };

const rowOf = ({ createdAt, ...rest }: WireDelivery): SentRow => ({
  ...rest,
  createdAt: Date.parse(createdAt),
});
const placeOf = ({ createdAt, id }: SentRow) => [createdAt, id] as const;

function Row({ delivery }: { delivery: SentRow }) {
  return (
    // On a phone each message is a small card: what, where to, when, and what it came to.
    <tr className="border-rule border-t align-top max-sm:grid max-sm:grid-cols-[minmax(0,1fr)_auto] max-sm:gap-x-3 max-sm:py-1.5 max-sm:[&>td]:py-0.5">
      <td className="figures pr-4 whitespace-nowrap max-sm:order-3">
        <Time at={delivery.createdAt} />
      </td>
      <td className="pr-4 max-sm:order-1">
        <Link href={`/messages/sent/${delivery.id}`}>{delivery.title}</Link>
      </td>
      <td className="pr-4 max-sm:order-2 max-sm:pr-0 max-sm:text-right">{delivery.channel}</td>
      <td
        className={`max-sm:order-4 max-sm:col-span-2 ${delivery.state === 'given-up' ? 'text-down-text' : ''}`}
      >
        {OUTCOME_TEXT[delivery.state]}
        <span className="text-muted">
          {delivery.attempts > 1 && ` after ${delivery.attempts} tries`}
          {delivery.lastSaid && `: ${delivery.lastSaid}`}
        </span>
      </td>
    </tr>
  );
}

interface SentListProps {
  /** The first of them. */
  deliveries: readonly SentRow[];
  /** Where those behind the first begin; null where there are none, left out where only the first are shown. */
  from?: string | null;
}

/** What was sent, each with where it went and what it came to; older ones come as one scrolls. */
export function SentList({ deliveries: read, from }: SentListProps) {
  const gathered = useGathered(read, placeOf);
  const deliveries = from === undefined ? read : gathered;
  return (
    <Table
      className="rows mt-1 text-[0.875rem]"
      cards
      heads={[['when', 'py-1 pr-4'], ['message', 'pr-4'], ['to', 'pr-4'], ['came to']]}
      more={
        <EndlessBody<WireDelivery, SentRow>
          from={from ?? null}
          rowOf={rowOf}
          draw={(delivery) => <Row key={delivery.id} delivery={delivery} />}
        />
      }
    >
      {deliveries.map((delivery) => (
        <Row key={delivery.id} delivery={delivery} />
      ))}
    </Table>
  );
}
