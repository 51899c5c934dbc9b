import type { MessageText } from '@/core/messages/message';
import { channelsFor } from '@/core/messages/routing';
import type { Db } from '@/store/db/connection';

/** Keeps a message that no watch's life brought about, with a delivery for every channel; answers its id. */
export async function queueMessage(
  trx: Db,
  message: { kind: string; watchId: number | null; text: MessageText; at: number },
): Promise<number> {
  const [messageId] = await trx('messages').insert({
    kind: message.kind,
    watch_id: message.watchId,
    outage_id: null,
    text: JSON.stringify(message.text),
    created_at: message.at,
  });
  const channels = await trx('channels').select('id', 'enabled');
  const routable = channels.map((c) => ({ id: c.id as number, enabled: Boolean(c.enabled) }));
  for (const channelId of channelsFor(routable)) {
    await trx('deliveries').insert({
      message_id: messageId,
      channel_id: channelId,
      state: 'waiting',
      attempts: 0,
      next_at: message.at,
    });
  }
  return messageId!;
}
