import { channelKinds } from '@/channels/kinds/registry';
import type { FieldDescription } from '@/core/settings/field-description';

/** A kind of channel as its form needs it. */
interface ChoosableKind {
  id: string;
  title: string;
  help: string;
  fields: readonly FieldDescription[];
  /** What holds where nothing is typed: texts as they would be typed, and what is switched on. */
  defaults: Record<string, string | boolean>;
  byDevice: boolean;
}

function defaultsOf(schema: { getDefault: () => unknown }): ChoosableKind['defaults'] {
  const entries = Object.entries(schema.getDefault() as Record<string, unknown>).map(
    ([name, value]) => [name, typeof value === 'boolean' ? value : String(value ?? '')] as const,
  );
  return Object.fromEntries(entries);
}

/** The kinds that can be connected here; scripts only where whoever runs the server allowed them. */
export function choosableKinds(withScripts: boolean): ChoosableKind[] {
  return channelKinds()
    .filter(({ id }) => withScripts || id !== 'script')
    .map(({ id, title, help, fields, schema, byDevice = false }) => ({
      id,
      title,
      help,
      fields,
      defaults: defaultsOf(schema),
      byDevice,
    }));
}
