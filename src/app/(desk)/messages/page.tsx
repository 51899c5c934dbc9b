import Link from 'next/link';
import { shownChannel } from '@/api/shapes';
import { channelKinds } from '@/channels/registry';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchChannels } from '@/store/messages/channels';
import { fetchDeliveries, type KeptDelivery } from '@/store/messages/deliveries';
import { ChannelForm } from '@/ui/messages/channel-form';
import { ChannelRow } from '@/ui/messages/channel-row';
import { Live } from '@/ui/basic/live';
import { Time } from '@/ui/form/zone';
import { capitalise, numberWord } from '@/core/text/words';
import { requireRight } from '@/app/session';
import { Table } from '@/ui/basic/table';

export const metadata = { title: 'Messages' };

const STATE_TEXT: Record<KeptDelivery['state'], string> = {
  delivered: 'delivered',
  waiting: 'on its way',
  'given-up': 'given up',
};

function leadingSentence(connected: number): string {
  if (connected === 0) return 'Nobody would be told yet.';
  return `${capitalise(numberWord(connected))} ${connected === 1 ? 'channel hears' : 'channels hear'} of trouble.`;
}

export default async function Messages() {
  await requireRight('look');
  const { db, vault } = serverContext();
  const now = requestTime();
  const channels = await fetchChannels(db);
  const deliveries = await fetchDeliveries(db, { limit: 50 });
  return (
    <div className="flex flex-col gap-5">
      <Live source="/live" readAt={now} />
      <div>
        <h1>{leadingSentence(channels.filter((channel) => channel.enabled).length)}</h1>
        <p className="text-muted mt-1.5">
          There is one route: when any watch goes down or comes up again, every connected channel is told at
          once.
        </p>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-[minmax(0,1fr)_24rem]">
        <div className="flex min-w-0 flex-col gap-5">
          <section className="sheet px-5 py-4">
            <h2>Channels</h2>
            {channels.length === 0 ? (
              <p className="text-muted mt-1">
                A channel is where messages go. Give your chat room an incoming webhook, paste its address
                here, and send a test.
              </p>
            ) : (
              <ul className="mt-2">
                {channels.map((channel) => (
                  <ChannelRow
                    key={channel.id}
                    id={channel.id}
                    name={channel.name}
                    enabled={channel.enabled}
                    shown={shownChannel(channel, vault)}
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
              <Table
                className="rows mt-1 text-[0.875rem]"
                heads={[['when', 'py-1 pr-4'], ['message', 'pr-4'], ['to', 'pr-4'], ['came to']]}
              >
                {deliveries.map((delivery) => (
                  <tr key={delivery.id} className="border-rule border-t align-top">
                    <td className="figures pr-4 whitespace-nowrap">
                      <Time at={delivery.createdAt} />
                    </td>
                    <td className="pr-4">
                      {delivery.watchId === null ? (
                        delivery.title
                      ) : (
                        <Link href={`/watches/${delivery.watchId}`}>{delivery.title}</Link>
                      )}
                    </td>
                    <td className="pr-4">{delivery.channel}</td>
                    <td className={delivery.state === 'given-up' ? 'text-down-text' : ''}>
                      {STATE_TEXT[delivery.state]}
                      <span className="text-muted">
                        {delivery.attempts > 1 && ` after ${delivery.attempts} tries`}
                        {delivery.lastSaid && `: ${delivery.lastSaid}`}
                      </span>
                    </td>
                  </tr>
                ))}
              </Table>
            )}
          </section>
        </div>
        <ChannelForm
          names={channels.map((channel) => channel.name)}
          kinds={channelKinds().map(({ id, title, help, fields }) => ({ id, title, help, fields }))}
        />
      </div>
    </div>
  );
}
