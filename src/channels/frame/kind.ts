import type { ObjectSchema } from 'yup';
import type { PaceLimit } from '@/core/messages/pace';
import type { Language } from '@/core/languages/language';
import type { State } from '@/core/lifecycle/state';
import type { House } from './house';
import type { FieldDescription } from '@/core/settings/field-description';
import type { MessageText } from '@/core/messages/message';
import type { SaidEvent } from '@/core/messages/said';

/** The other side's answer to one attempt. */
export interface Answer {
  ok: boolean;
  /** Worth another try: the other side was away or busy. */
  retry: boolean;
  /** How long it asks to be left alone, in ms. */
  retryAfterMs?: number;
  /** It is gone for good and says so: nothing is sent there any more until a person wakes it. */
  gone?: true;
  /** The fault is ours: it waits for as long as it takes. */
  ours?: true;
  /** What it said, in one line, as far as it may be shown. */
  said: string;
  /** By what the other side knows the message, where what follows can be tied to it. */
  ref?: string;
}

/** A message on its way to one channel. */
export interface Outgoing extends MessageText {
  /** The same at every try, and of no other message. */
  id: string;
  /** The same for all that is said about one trouble; null for what is about several. */
  conversation: string | null;
  /** The conversation it adds to; null where it is its own, or begins one. */
  follows: string | null;
  /** What it says, before it was put into words; null for messages from before that was kept. */
  event: SaidEvent | null;
  /** When it was said, ms since 1970. */
  at: number;
  /** The watch it is about; null for what is about several or about none. */
  watch: { id: number; name: string } | null;
  /** By what the other side knows the first message of this conversation, or of that it adds to; null where this is it, or nobody knows. */
  first: string | null;
  /** Where whoever reads it may say that they have it, without signing in; null for what nobody can take. */
  take: string | null;
  /** What to write into the room for the same; null where nobody listens there. */
  answer: string | null;
  /** What it is said in. */
  language: Language;
  /** It belongs to a rehearsal: nothing is to act on it as if it were real. */
  drill: boolean;
}

/** What a person may choose for a field: asked of the other side, for they do not know it by heart. */
export interface Found {
  value: string;
  text: string;
}

/** How a watch stands, for programs; `as` is null for one that is gone. */
export interface MirroredState {
  id: number;
  as: { state: State; wantsHand: boolean; name: string; stateSinceAt: string } | null;
}

/** What somebody wrote where a channel listens. */
export interface Heard {
  /** What they go by there. */
  by: string;
  text: string;
  /** The message it answers, as the other side knows it; null where it answers none. */
  to: string | null;
}

/** What whoever keeps a line wants to know of it. */
export interface AroundLine {
  onHeard: (heard: Heard) => void;
  /** It cannot be listened to at the moment, and why. */
  onDeaf?: (why: string) => void;
  /** It was opened, anew or again: what was left on the other side may be gone. */
  onOpen: () => void;
}

/** A connection that is kept, so that the next message goes at once. */
export interface Line {
  send: (message: Outgoing, signal: AbortSignal) => Promise<Answer>;
  /** Goes there to listen, though nothing is to be said yet; may be called again. */
  listen?: () => void;
  /** Says something in answer to what was heard; rejects with why it could not be said. */
  reply?: (text: string, to: Heard, signal: AbortSignal) => Promise<void>;
  /** Leaves how watches stand on the other side; resolves to what is wrong, in words, or null. */
  mirror?: (states: readonly MirroredState[], signal: AbortSignal) => Promise<string | null>;
  /** Ends it; may be called twice. */
  close: () => Promise<void>;
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
  send: (settings: S, message: Outgoing, signal: AbortSignal, house?: House) => Promise<Answer>;
  /** So many messages go at once, and then one in so long: more than that such a room refuses. */
  pace?: PaceLimit;
  /** Its settings come from the device somebody sits at, not from what they type. */
  byDevice?: true;
  /** Of kinds that stay connected: a line that is kept for what comes next. `send` makes one for itself. */
  connect?: (settings: S, around?: AroundLine) => Line;
  /** Its lines can listen; they do where its settings have `listens` on. */
  listens?: true;
  /** Its lines keep how each watch stands for whoever comes later. */
  mirrors?: true;
  /** Fields whose value the other side can tell, once the others are filled in. Throws an error with a sentence. */
  find?: Record<string, (settings: S, signal: AbortSignal) => Promise<Found[]>>;
}
