import { queryOf, type AskedQuery } from '@/app/query-of';
import { requireRight } from '@/app/session';
import { MOMENTS, type Moment } from '@/core/telling/ahead/moments';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { Link } from '@/ui/basic/link';
import { Table } from '@/ui/basic/table';
import { Time } from '@/ui/form/zone';
import { fetchHeardTable, MOST_ROWS, readHeardQuery } from '@/views/messages/heard-table';
import { Crumbs, MESSAGES } from '@/ui/basic/crumbs';

export const metadata = { title: 'Who hears of what' };

const MOMENT_TEXT: Record<Moment, string> = { now: 'now', night: 'at night', weekend: 'at the weekend' };

export default async function WhoHearsOfWhat({ searchParams }: { searchParams: Promise<AskedQuery> }) {
  await requireRight('look');
  const { db, environment } = serverContext();
  const { moment, page } = readHeardQuery(queryOf(await searchParams));
  const now = requestTime();
  const { channels, moreChannels, rows, all, at } = await fetchHeardTable(db, {
    moment,
    page,
    now,
    zone: environment.zone,
  });
  const gaps = rows.filter(({ unheard }) => unheard).length;
  const last = (page + 1) * MOST_ROWS >= all;
  return (
    <div className="flex flex-col gap-5">
      <div>
        <Crumbs to={[MESSAGES]} />
        <h1>Who hears of what, {MOMENT_TEXT[moment]}?</h1>
        <p className="text-muted mt-1">
          If a watch went down <Time at={at} /> and nobody took it.{' '}
          {gaps > 0 && 'A gap is a watch that would tell nobody.'}
        </p>
      </div>
      <nav aria-label="Moment" className="flex flex-wrap gap-4 text-[0.9375rem]">
        {MOMENTS.map((one) => (
          <Link
            key={one}
            href={`/messages/watches?at=${one}`}
            aria-current={one === moment ? 'page' : undefined}
            className="aria-[current=page]:border-lamp border-b-2 border-transparent py-1 aria-[current=page]:font-semibold"
          >
            {MOMENT_TEXT[one]}
          </Link>
        ))}
      </nav>
      <section className="sheet overflow-x-auto px-5 py-4" aria-label="Watches and channels">
        {rows.length === 0 ? (
          <p className="text-muted">There is no watch to hear of here.</p>
        ) : (
          <Table
            className="rows text-[0.875rem]"
            heads={[
              ['watch', 'py-1 pr-4'],
              ...channels.map(({ name }) => [name, 'pr-4 max-sm:hidden'] as const),
              ['in words', 'min-w-56'],
            ]}
          >
            {rows.map(({ id, name, cells, words, unheard }) => (
              <tr key={id} className="border-rule border-t align-top">
                <td className="py-1.5 pr-4 font-semibold">
                  <Link href={`/watches/${id}`} className={unheard ? 'text-down-text' : ''}>
                    {name}
                  </Link>
                </td>
                {cells.map((cell, i) => (
                  <td key={channels[i]!.id} className="figures pr-4 whitespace-nowrap max-sm:hidden">
                    {cell ?? ''}
                  </td>
                ))}
                <td className={unheard ? 'text-down-text font-semibold' : 'text-muted'}>{words}</td>
              </tr>
            ))}
          </Table>
        )}
        {moreChannels > 0 && (
          <p className="text-muted mt-2 text-[0.875rem]">
            {moreChannels === 1 ? 'One more channel has' : `${moreChannels} more channels have`} no column
            here; the words name them.
          </p>
        )}
        {(page > 0 || !last) && (
          <p className="mt-3 flex gap-4 text-[0.875rem]">
            {page > 0 && <Link href={`/messages/watches?at=${moment}&page=${page - 1}`}>Those before</Link>}
            {!last && <Link href={`/messages/watches?at=${moment}&page=${page + 1}`}>The next ones</Link>}
          </p>
        )}
      </section>
    </div>
  );
}
