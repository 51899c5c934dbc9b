import type { AnySchema } from 'yup';
import type { KindDefaults } from '@/core/settings/cascade';
import { broker } from './broker';
import { combined } from './combined';
import { container } from './container';
import { database } from './database';
import { datagram } from './datagram';
import { journey } from './journey';
import type { ProbeKind } from '@/probes/frame/kind';
import { mail } from './mail';
import { name } from './name';
import { ping } from './ping';
import { port } from './port';
import { reading } from './reading';
import { redis } from './redis';
import { certificate } from './certificate';
import { web } from './web';
import { websocket } from './websocket';

/** Every kind of probe. A new one is one file and one line here. */
const KINDS = [
  web,
  port,
  ping,
  name,
  certificate,
  reading,
  journey,
  combined,
  mail,
  database,
  redis,
  broker,
  websocket,
  datagram,
  container,
] as unknown as ProbeKind<object>[];

const BY_ID = new Map(KINDS.map((kind) => [kind.id, kind]));

export function probeKinds(): readonly ProbeKind<object>[] {
  return KINDS;
}

export function probeKind(id: string): ProbeKind<object> | undefined {
  return BY_ID.get(id);
}

/** What ships for each kind beside what ships for all, as the cascade of settings takes it. */
export function shippedForKinds(): Record<string, Record<string, unknown>> {
  return Object.fromEntries(
    KINDS.map(({ id, every, fields, defaults }) => [
      id,
      {
        ...(every !== undefined && { every }),
        ...Object.fromEntries(
          fields
            .filter((field) => field.shared)
            .map(({ name }) => [`settings.${name}`, (defaults as Record<string, unknown>)[name]]),
        ),
      },
    ]),
  );
}

/** What each kind has where a watch says nothing, for watches that were kept before a setting was there. */
export function defaultsOfKinds(): Record<string, KindDefaults> {
  const rowOf = (kind: ProbeKind<object>, name: string) => {
    const field = (kind.schema.fields as Record<string, { innerType?: AnySchema }>)[name];
    return (field?.innerType?.getDefault() ?? {}) as Record<string, unknown>;
  };
  return Object.fromEntries(
    KINDS.map((kind) => [
      kind.id,
      {
        settings: kind.defaults as Record<string, unknown>,
        rows: Object.fromEntries(
          kind.fields
            .filter((field) => field.control === 'rows')
            .map(({ name }) => [name, rowOf(kind, name)]),
        ),
      },
    ]),
  );
}

/** The names of the settings of a kind that are kept sealed. */
export function secretsOf(kind: ProbeKind<object>): string[] {
  return kind.fields.filter((field) => field.control.startsWith('secret')).map((field) => field.name);
}
