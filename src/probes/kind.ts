import type { LookupFunction } from 'node:net';
import type { ObjectSchema } from 'yup';
import type { Finding } from '../core/finding';

/** One field of a probe's settings as the form shows it. */
export interface FieldDescription {
  name: string;
  label: string;
  help: string;
  control: 'text' | 'textarea' | 'number' | 'duration' | 'switch';
  placeholder?: string;
  /** Shown only when asked for more. */
  extra?: boolean;
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
  /** The host whose share of concurrent looks this uses. */
  hostOf: (settings: S) => string;
  /** What is looked at, short: "https://…" or "port 9100". Never shown in public. */
  targetOf: (settings: S) => string;
  /** A name for the watch, from its settings alone. */
  nameOf: (settings: S) => string;
  /** One sentence on what would count as failing. */
  verdictSentence: (settings: S, timeoutMs: number) => string;
  look: (settings: S, context: LookContext) => Promise<Finding>;
}
