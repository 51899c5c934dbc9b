import Link from 'next/link';
import type { KeptDelivery } from '@/store/messages/sent';
import { Table } from '@/ui/basic/table';
import { Time } from '@/ui/form/zone';

export const OUTCOME_TEXT: Record<KeptDelivery['state'], string> = {
  delivered: 'delivered',
  waiting: 'on its way',
  'given-up': 'given up',
};

/** What was sent, each with where it went and what it came to. */
export function SentList({ deliveries }: { deliveries: readonly KeptDelivery[] }) {
  return (
    <Table
      className="rows mt-1 text-[0.875rem]"
      cards
      heads={[['when', 'py-1 pr-4'], ['message', 'pr-4'], ['to', 'pr-4'], ['came to']]}
    >
      {deliveries.map((delivery) => (
        <tr
          key={delivery.id}
          // On a phone each message is a small card: what, where to, when, and what it came to.
          className="border-rule border-t align-top max-sm:grid max-sm:grid-cols-[minmax(0,1fr)_auto] max-sm:gap-x-3 max-sm:py-1.5 max-sm:[&>td]:py-0.5"
        >
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
      ))}
    </Table>
  );
}
