import type { LookupFunction } from 'node:net';
import type { AnyObjectSchema, ObjectSchema } from 'yup';
import type { Evidence, Finding } from '@/core/causes/finding';
import type { FieldDescription } from '@/core/settings/field-description';
import type { State } from '@/core/lifecycle/state';

/** Another watch, as a look may see it. */
export interface OtherWatch {
  name: string;
  state: State;
}

/** What a probe is handed: nothing is reached for. */
export interface LookContext {
  /** Milliseconds since 1970. */
  now: () => number;
  /** Milliseconds on a monotonic clock. */
  monotonic: () => number;
  lookup: LookupFunction;
  timeoutMs: number;
  signal: AbortSignal;
  /** What the look before this one learnt; for what must not change or grow old. */
  before?: Evidence;
  /** Other watches, for what is put together from them. */
  other?: (id: number) => OtherWatch | null;
}

/** Where a look is headed, layer by layer, for walking the ladder towards it. */
export interface WalkTarget {
  host: string;
  port?: number;
  /** TLS is spoken from the first byte. */
  tls?: boolean;
  servername?: string;
}

/** One kind of probe: its settings, its form, and how it looks. */
export interface ProbeKind<S extends object> {
  id: string;
  title: string;
  /** One sentence on what it is for. */
  help: string;
  schema: ObjectSchema<S>;
  fields: FieldDescription[];
  defaults: S;
  /** Seconds between two looks where nothing else is said; a minute without. */
  every?: number;
  /** The host whose share of concurrent looks this uses. */
  hostOf: (settings: S) => string;
  /** What is looked at, short: "https://…" or "port 9100". Never shown in public. */
  targetOf: (settings: S) => string;
  /** A name for the watch, from its settings alone. */
  nameOf: (settings: S) => string;
  /** Where the ladder leads; null for what has no network way of its own. */
  walkTo: (settings: S) => WalkTarget | null;
  /** One sentence on what would count as failing. */
  verdictSentence: (settings: S, timeoutMs: number) => string;
  /** The watches this one is put together from. */
  partsOf?: (settings: S) => number[];
  /** Loads what a look needs and few desks do; it is no part of the look's time. */
  prepare?: (settings: S) => Promise<unknown>;
  look: (settings: S, context: LookContext) => Promise<Finding>;
}

/** The checks of a kind's settings, and what holds where nothing is said. */
export function checkedBy<S extends object>(
  schema: AnyObjectSchema,
): Pick<ProbeKind<S>, 'schema' | 'defaults'> {
  return { schema: schema as unknown as ObjectSchema<S>, defaults: schema.getDefault() as S };
}
