import { cursorOf } from '@/api/cursor';
import { capitalise } from '@/core/text/words';
import { queryOf, type AskedQuery } from '@/app/query-of';
import { requireRight } from '@/app/session';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { Live } from '@/ui/live/live';
import { SentFilter } from '@/ui/messages/sent-filter';
import { SentList } from '@/ui/messages/sent-list';
import { FIRST_SENT, fetchSent, readSentQuery } from '@/views/messages/sent';
import { Crumbs, MESSAGES } from '@/ui/basic/crumbs';

const EXPORTS = [
  ['csv', 'All of them as CSV'],
  ['jsonl', 'as JSON Lines'],
] as const;

function withFormat(query: string, format: string): string {
  return query === '' ? `as=${format}` : `${query}&as=${format}`;
}

export const metadata = { title: 'Sent' };

export default async function Sent({ searchParams }: { searchParams: Promise<AskedQuery> }) {
  await requireRight('look');
  const asked = readSentQuery(queryOf(await searchParams));
  const { db, environment } = serverContext();
  const view = await fetchSent(db, asked, environment.zone);
  const { deliveries, behind, channels, watch, sentence, exportQuery } = view;
  const query = [exportQuery, `limit=${FIRST_SENT}`, behind && `cursor=${cursorOf(behind)}`];
  return (
    <div className="flex flex-col gap-5">
      <Live source="/live" readAt={requestTime()} />
      <div>
        <Crumbs to={[MESSAGES]} />
        <h1>{capitalise(sentence)}</h1>
      </div>
      <SentFilter
        asked={{
          channel: asked.filter.channelId ?? null,
          outcome: asked.filter.state ?? null,
          says: asked.filter.says ?? null,
          since: asked.since,
          until: asked.until,
        }}
        watch={watch}
        channels={channels}
      />
      <section className="sheet overflow-x-auto px-5 py-4" aria-label="Messages that were sent">
        {deliveries.length === 0 ? (
          <p className="text-muted">
            {asked.isNarrowed
              ? 'No message is like this. Let go of what narrows the list, or look at another time.'
              : 'Nothing was sent yet. Each message stands here with the answer it got.'}
          </p>
        ) : (
          <SentList
            key={exportQuery}
            deliveries={deliveries}
            from={behind && `/deliveries?${query.filter(Boolean).join('&')}`}
          />
        )}
        {deliveries.length > 0 && (
          <p className="mt-3 flex flex-wrap gap-x-5 text-[0.875rem]">
            {EXPORTS.map(([format, words]) => (
              <a key={format} href={`/api/v1/deliveries?${withFormat(exportQuery, format)}`} download>
                {words}
              </a>
            ))}
          </p>
        )}
      </section>
    </div>
  );
}
