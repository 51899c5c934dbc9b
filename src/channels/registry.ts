import type { ChannelKind } from './kind';
import { webhook } from './webhook';

/** Every kind of channel. A new one is one file and one line here. */
const KINDS = [webhook] as unknown as ChannelKind<object>[];

export function channelKind(id: string): ChannelKind<object> | undefined {
  return KINDS.find((kind) => kind.id === id);
}

export function channelKinds(): readonly ChannelKind<object>[] {
  return KINDS;
}
