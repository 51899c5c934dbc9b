import type { ChannelKind } from '@/channels/frame/kind';
import { adaptiveCard } from './adaptive-card';
import { chatBot } from './chat-bot';
import { desk } from './desk';
import { contentCard } from './content-card';
import { irc } from './irc';
import { mail } from './mail';
import { matrix } from './matrix';
import { mqtt } from './mqtt';
import { push } from './push';
import { script } from './script';
import { signedWebhook } from './signed-webhook';
import { xmpp } from './xmpp';
import { webhook } from './webhook';

/** Every kind of channel. A new one is one file and one line here. */
const KINDS = [
  webhook,
  mail,
  contentCard,
  adaptiveCard,
  chatBot,
  matrix,
  irc,
  xmpp,
  push,
  desk,
  mqtt,
  signedWebhook,
  script,
] as unknown as ChannelKind<object>[];

export function channelKind(id: string): ChannelKind<object> | undefined {
  return KINDS.find((kind) => kind.id === id);
}

export function channelKinds(): readonly ChannelKind<object>[] {
  return KINDS;
}
