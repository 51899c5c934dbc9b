import type { ObjectSchema } from 'yup';
import type { FieldDescription } from '@/core/settings/field-description';
import type { MessageText } from '@/core/messages/message';

/** The other side's answer to one attempt. */
export interface Answer {
  ok: boolean;
  /** Worth another try: the other side was away or busy. */
  retry: boolean;
  /** The fault is ours: it waits for as long as it takes. */
  ours?: true;
  /** What it said, in one line, as far as it may be shown. */
  said: string;
}

/** One kind of channel: its settings and how a message is handed over. */
export interface ChannelKind<S extends object> {
  id: string;
  title: string;
  help: string;
  schema: ObjectSchema<S>;
  /** Described as those of probes are; `secret` is for what is not to be seen while it is typed. */
  fields: FieldDescription[];
  /** The settings as they may be shown again: secrets cut short. */
  shown: (settings: S) => string;
  send: (settings: S, message: MessageText, signal: AbortSignal) => Promise<Answer>;
}
