import type { Day } from '@/core/pages/days';
import { LINE_DAYS } from '@/core/pages/page';
import { nameOf, type SheetAddress } from '../frame/place';

/** All sheets of a page as a folder of files holds them. `past` leaves out what only changes when a person changes it. */
export function sheetsOf(
  {
    days,
    months,
    incidents,
  }: { days: readonly Day[]; months: readonly string[]; incidents: readonly number[] },
  { past }: { past: boolean },
): { name: string; address: SheetAddress }[] {
  const addresses: SheetAddress[] = [
    // The page itself comes first: it is what people look at.
    ...[...LINE_DAYS].reverse().map((span): SheetAddress => ({ sheet: 'page', days: span })),
    ...(past ? days : days.slice(-2)).map((day): SheetAddress => ({ sheet: 'day', day })),
    { sheet: 'diary', month: null },
    ...(past ? months : months.slice(0, 1)).map((month): SheetAddress => ({ sheet: 'diary', month })),
    ...(past ? incidents : incidents.slice(0, 10)).map((id): SheetAddress => ({ sheet: 'incident', id })),
  ];
  return addresses.map((address) => ({ name: nameOf(address, true), address }));
}
