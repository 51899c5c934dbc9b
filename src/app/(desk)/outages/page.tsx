import { notFound } from 'next/navigation';
import { cursorOf } from '@/api/cursor';
import { capitalise, numberWord } from '@/core/text/words';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { countOutages } from '@/store/history/outages';
import { fetchNamed } from '@/store/watches/tied';
import { fetchOutageLines } from '@/views/outages/outage-lines';
import { ButtonLink } from '@/ui/basic/button';
import { Live } from '@/ui/live/live';
import { OutageTable } from '@/ui/outages/outage-table';
import { queryOf, type AskedQuery } from '@/app/query-of';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Outages' };

const FIRST = 100;

function sentenceOf(open: number, watch: string | null): string {
  if (open === 0) return watch === null ? 'Nothing is down.' : `${watch} is not down.`;
  const many = `${capitalise(numberWord(open))} ${open === 1 ? 'outage' : 'outages'}`;
  return `${many}${watch === null ? '' : ` of ${watch}`} ${open === 1 ? 'is' : 'are'} not over.`;
}

export default async function Outages({ searchParams }: { searchParams: Promise<AskedQuery> }) {
  await requireRight('look');
  const { db } = serverContext();
  const now = requestTime();
  const asked = queryOf(await searchParams).get('watch');
  const [watch = null] = asked === null ? [] : await fetchNamed(db, [Number(asked)]);
  if (asked !== null && watch === null) notFound();
  const filter = watch ? { watchId: watch.id } : {};
  const outages = await fetchOutageLines(db, filter, { limit: FIRST });
  const { all, open } = await countOutages(db, watch?.id);
  const last = outages.at(-1);
  const query = [
    watch && `watch=${watch.id}`,
    `limit=${FIRST}`,
    last && `cursor=${cursorOf([last.began, last.id])}`,
  ];
  return (
    <div className="flex flex-col gap-5">
      <Live source="/live" readAt={now} watchId={watch?.id} />
      <div className="flex flex-wrap items-start gap-3">
        <div className="min-w-0 flex-1 basis-72">
          <h1>{sentenceOf(open, watch?.name ?? null)}</h1>
          {all > 0 && (
            <p className="text-muted mt-1.5">
              {all === 1 ? 'One outage' : `${all.toLocaleString('en-GB')} outages`} so far, the newest first.
            </p>
          )}
        </div>
        {watch && <ButtonLink href={`/watches/${watch.id}`}>{watch.name}</ButtonLink>}
        {watch && <ButtonLink href="/outages">Those of all watches</ButtonLink>}
      </div>
      {outages.length === 0 ? (
        <p className="sheet text-muted max-w-2xl p-6">
          An outage is one stretch of a watch being down: when it began, when it was noticed, when it ended,
          why, and who was told. The first one will stand here.
        </p>
      ) : (
        <div className="sheet overflow-x-auto px-4 py-2">
          <OutageTable
            key={watch?.id ?? 'all'}
            outages={outages}
            all={all}
            from={outages.length < all ? `/outage-lines?${query.filter(Boolean).join('&')}` : null}
            now={now}
          />
        </div>
      )}
    </div>
  );
}
