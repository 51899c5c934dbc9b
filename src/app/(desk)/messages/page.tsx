import { shownChannel } from '@/api/shapes';
import { channelKind } from '@/channels/kinds/registry';
import { Link } from '@/ui/basic/link';
import { choosableKinds } from '@/views/messages/channel-kinds';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchChannels } from '@/store/messages/channels';
import { fetchDeliveries } from '@/store/messages/sent';
import { ChannelForm } from '@/ui/messages/channel-form';
import { ChannelRow } from '@/ui/messages/channel-row';
import { SentList } from '@/ui/messages/sent-list';
import { RouteList } from '@/ui/messages/routes/route-list';
import { fetchWhoHears, type WhoHears } from '@/views/messages/who-hears';
import { Live } from '@/ui/live/live';
import { capitalise, numberWord } from '@/core/text/words';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Messages' };

/** So many of the last messages are shown; all of them have a screen of their own. */
const MOST_SENT = 12;

const NONE = { count: 0, first: [] };

function leadingSentence({ watches, unheard }: WhoHears): string {
  const heard = watches - unheard.count;
  if (watches === 0) return 'There is no watch to hear of yet.';
  if (heard === 0) return 'Nobody would be told yet.';
  if (watches === 1) return 'The one watch reaches someone.';
  if (heard === watches)
    return watches === 2
      ? 'Both watches reach someone.'
      : `All ${numberWord(watches)} watches reach someone.`;
  return `${capitalise(numberWord(heard))} of ${numberWord(watches)} watches ${heard === 1 ? 'reaches' : 'reach'} someone.`;
}

/** The watches that would tell nobody, by name. */
function Unheard({ unheard, watches }: WhoHears) {
  if (unheard.count === 0 || watches === unheard.count) return null;
  const left = unheard.count - unheard.first.length;
  return (
    <p className="mt-1.5">
      {unheard.first.map(({ id, name }, i) => (
        <span key={id}>
          {i > 0 && ', '}
          <Link href={`/watches/${id}`} className="text-down-text font-semibold">
            {name}
          </Link>
        </span>
      ))}
      {left > 0 && ` and ${left} more`} would tell nobody.
    </p>
  );
}

export default async function Messages() {
  await requireRight('look');
  const { db, vault } = serverContext();
  const now = requestTime();
  const channels = await fetchChannels(db);
  const deliveries = await fetchDeliveries(db, { limit: MOST_SENT });
  const hears = await fetchWhoHears(db);
  return (
    <div className="flex flex-col gap-5">
      <Live source="/live" readAt={now} />
      <div>
        <h1>{leadingSentence(hears)}</h1>
        <Unheard {...hears} />
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-[minmax(0,1fr)_24rem]">
        <div className="flex min-w-0 flex-col gap-5">
          <RouteList routes={hears.routes} />
          <section className="sheet px-5 py-4">
            <h2>Channels</h2>
            {channels.length === 0 ? (
              <p className="text-muted mt-1">
                A channel is where messages go. Give your chat room an incoming webhook, paste its address
                here, and send a test.
              </p>
            ) : (
              <ul aria-label="Channels" className="mt-2">
                {channels.map((channel) => (
                  <ChannelRow
                    key={channel.id}
                    id={channel.id}
                    name={channel.name}
                    title={channelKind(channel.kind)?.title ?? channel.kind}
                    enabled={channel.enabled}
                    shown={shownChannel(channel, vault)}
                    fallback={channels.find(({ id }) => id === channel.fallbackId)?.name ?? null}
                    leaves={hears.leaves.get(channel.id) ?? NONE}
                  />
                ))}
              </ul>
            )}
          </section>
          <section className="sheet overflow-x-auto px-5 py-4">
            <h2>Sent</h2>
            {deliveries.length === 0 ? (
              <p className="text-muted mt-1">
                Nothing was sent yet. Each message stands here with the answer it got.
              </p>
            ) : (
              <>
                <SentList deliveries={deliveries} />
                <p className="mt-3 text-[0.875rem]">
                  <Link href="/messages/sent">All that was sent</Link>
                </p>
              </>
            )}
          </section>
        </div>
        <ChannelForm
          others={channels.map(({ id, name }) => ({ id, name }))}
          kinds={choosableKinds(serverContext().environment.scripts !== null)}
        />
      </div>
    </div>
  );
}
