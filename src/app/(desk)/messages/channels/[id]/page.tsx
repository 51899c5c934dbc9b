import { notFound } from 'next/navigation';
import { shownSettings } from '@/api/shapes';
import { requireRight } from '@/app/session';
import { channelVersion } from '@/cases/messages/channels';
import { serverContext } from '@/server/context';
import { fetchChannels } from '@/store/messages/channels';
import { ChannelForm } from '@/ui/messages/channel-form';
import { capitalise } from '@/core/text/words';
import { settingValues } from '@/ui/settings/setting-value';
import { choosableKinds } from '@/views/messages/channel-kinds';

export const metadata = { title: 'Change a channel' };

export default async function ChangeChannel({ params }: { params: Promise<{ id: string }> }) {
  await requireRight('operate');
  const { db, vault } = serverContext();
  const { id } = await params;
  const channels = await fetchChannels(db);
  const channel = channels.find((one) => String(one.id) === id);
  // What was connected while scripts were allowed can still be changed.
  const kinds = choosableKinds(true).filter((kind) => kind.id === channel?.kind);
  if (!channel || kinds.length === 0) notFound();
  return (
    <div className="flex max-w-3xl flex-col gap-5">
      <div>
        <h1>How is {channel.name} reached?</h1>
        <p className="text-muted mt-1.5">{capitalise(kinds[0]!.title)}</p>
      </div>
      <ChannelForm
        kinds={kinds}
        others={channels.filter((one) => one !== channel).map(({ id: other, name }) => ({ id: other, name }))}
        channel={{
          id: channel.id,
          version: channelVersion(channel),
          kind: channel.kind,
          name: channel.name,
          fallbackId: channel.fallbackId,
          language: channel.language,
          settings: settingValues(shownSettings(channel, vault)),
        }}
      />
    </div>
  );
}
