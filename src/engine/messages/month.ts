import type { Knex } from 'knex';
import { availabilityOf } from '@/core/history/availability';
import type { Saying } from '@/core/telling/telling';
import { dayBegins } from '@/core/time/zone-time';
import { fetchOutageSpans } from '@/store/history/outages';
import { fetchStretches } from '@/store/history/stretches';

/** When the month of a moment begins in a zone. */
function monthBegins(at: number, zone: string): number {
  const parts = new Intl.DateTimeFormat('en', { timeZone: zone, year: 'numeric', month: '2-digit' })
    .formatToParts(at)
    .map(({ type, value }) => [type, value] as const);
  const { year, month } = Object.fromEntries(parts);
  return dayBegins(`${year}-${month}-01`, zone) ?? at;
}

type Recovery = Saying & { event: { kind: 'recovered'; ended: number }; watch: { id: number } };

function isRecovery(says: Saying): says is Recovery {
  return says.event.kind === 'recovered' && says.watch !== null && says.drill === null;
}

/**
 * Adds to each recovery how much of its month the watch was up; where it was not watched that long, since when it was.
 * Read once for all of them: there may be hundreds at a time.
 */
export async function withMonths(db: Knex, says: readonly Saying[], zone: string): Promise<Saying[]> {
  const recoveries = says.filter(isRecovery);
  if (recoveries.length === 0) return [...says];
  const ids = [...new Set(recoveries.map(({ watch }) => watch.id))];
  const since = Math.min(...recoveries.map(({ event }) => monthBegins(event.ended, zone)));
  const until = Math.max(...recoveries.map(({ event }) => event.ended));
  const stretches = await fetchStretches(db, ids, since, until);
  const outages = await fetchOutageSpans(db, ids, since);
  return says.map((one) => {
    if (!isRecovery(one)) return one;
    const to = one.event.ended;
    const mine = (stretches.get(one.watch.id) ?? []).filter(({ kind }) => kind !== 'waiting');
    const from = Math.max(monthBegins(to, zone), mine[0]?.from ?? to);
    const spansOf = (counts: boolean) =>
      outages
        .filter(({ watchId, leftOut }) => watchId === one.watch.id && (leftOut === null) === counts)
        .map((outage) => ({ from: outage.began, to: outage.ended ?? to }));
    const { uptime } = availabilityOf({ from, to }, mine, spansOf(true), spansOf(false));
    return uptime === null ? one : { ...one, event: { ...one.event, month: { from, uptime } } };
  });
}
