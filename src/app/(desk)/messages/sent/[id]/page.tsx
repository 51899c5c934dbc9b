import { notFound } from 'next/navigation';
import { requireRight } from '@/app/session';
import { ruleInWords } from '@/core/telling/rule-words';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchDeliveryStory } from '@/store/messages/sent';
import { fetchOutages } from '@/store/history/outages';
import { fetchIncidentsOfOutages } from '@/store/pages/incidents';
import { Link } from '@/ui/basic/link';
import { ToldPublicly } from '@/ui/pages/told-publicly';
import { Live } from '@/ui/live/live';
import { Time } from '@/ui/form/zone';
import { SendAgain } from '@/ui/messages/send-again';
import { OUTCOME_TEXT } from '@/ui/messages/outcome-text';
import { Crumbs, MESSAGES } from '@/ui/basic/crumbs';

export const metadata = { title: 'A message' };

export default async function OneMessage({ params }: { params: Promise<{ id: string }> }) {
  await requireRight('look');
  const { db, place } = serverContext();
  const { id } = await params;
  const story = /^\d{1,15}$/.test(id) ? await fetchDeliveryStory(db, Number(id), place) : null;
  if (!story) notFound();
  const { text, tries, route, rule, notes, watchId, channel, state, createdAt } = story;
  const [outage] = watchId === null ? [] : await fetchOutages(db, { watchId, open: true }, { limit: 1 });
  const incidents = await fetchIncidentsOfOutages(db, outage ? [outage.id] : []);
  return (
    <div className="flex flex-col gap-5">
      <Live source="/live" readAt={requestTime()} />
      <div>
        <Crumbs to={[MESSAGES, { href: '/messages/sent', text: 'Sent' }]} />
        <h1>{text.title}.</h1>
        <p className="text-muted mt-1">
          To {channel}, <Time at={createdAt} as="exact" />: {OUTCOME_TEXT[state]}.
        </p>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-[minmax(0,1fr)_24rem]">
        <div className="flex min-w-0 flex-col gap-5">
          <section className="sheet px-5 py-4">
            <h2>What it says</h2>
            <div className="mt-2 flex flex-col gap-1 [overflow-wrap:anywhere]">
              <p className="font-semibold">{text.title}</p>
              {text.lines.map((line, i) => (
                <p key={i}>{line}</p>
              ))}
              <p className="text-muted text-[0.875rem]">{text.link}</p>
            </div>
            <p className="mt-3 flex flex-wrap gap-x-4 text-[0.875rem]">
              {watchId !== null && <Link href={`/watches/${watchId}`}>The watch</Link>}
              {watchId !== null && (
                <Link href={`/messages/sent?watch=${watchId}`}>All that was sent about it</Link>
              )}
              {outage && <ToldPublicly outageId={outage.id} incident={incidents.get(outage.id)} />}
            </p>
          </section>
          <section className="sheet px-5 py-4">
            <h2>What came of it</h2>
            {tries.length === 0 ? (
              <p className="text-muted mt-1">It was not tried yet.</p>
            ) : (
              <ol className="mt-2">
                {tries.map(({ at, ok, said }, i) => (
                  <li
                    key={i}
                    className="border-rule flex flex-wrap gap-x-4 border-t py-2 text-[0.875rem] first:border-t-0"
                  >
                    <span className="figures whitespace-nowrap">
                      <Time at={at} as="exact" />
                    </span>
                    <span className={`min-w-0 flex-1 [overflow-wrap:anywhere] ${ok ? '' : 'text-down-text'}`}>
                      {[ok ? 'taken' : 'not taken', said]
                        .filter((word, at, all) => all.indexOf(word) === at)
                        .join(': ')}
                    </span>
                  </li>
                ))}
              </ol>
            )}
            <SendAgain deliveryId={story.id} waits={state === 'waiting'} />
          </section>
        </div>
        <section className="sheet px-5 py-4">
          <h2>Why it went there</h2>
          <p className="mt-1">
            {route ? (
              <>
                By the route <Link href={`/messages/routes/${route.id}`}>{route.name}</Link>
                {rule && `: ${ruleInWords(rule)}.`}
              </>
            ) : (
              `${rule ? ruleInWords(rule) : 'It was sent before routes were kept'}.`
            )}
          </p>
          <h3 className="mt-4 font-semibold">Who else was considered</h3>
          {notes.length === 0 ? (
            <p className="text-muted">Nobody who did not hear of it as well.</p>
          ) : (
            <ul className="mt-1 flex flex-col gap-1.5 text-[0.875rem]">
              {notes.map((note, i) => (
                <li key={i}>
                  {[note.channel, note.route && `by ${note.route}`].filter(Boolean).join(', ') || 'Nobody'}:{' '}
                  {ruleInWords(note.rule)}.
                </li>
              ))}
            </ul>
          )}
        </section>
      </div>
    </div>
  );
}
