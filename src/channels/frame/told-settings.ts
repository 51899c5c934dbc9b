import type { FieldDescription } from '@/core/settings/field-description';
import { isKept, KEPT } from '@/core/settings/kept';

type Settings = Record<string, unknown>;

interface Described {
  fields: readonly FieldDescription[];
}

/** Where it is handed over: whoever chooses that is told every secret. */
const PLACES = ['address', 'host', 'account'];

function isOpen({ fields }: Described, name: string): boolean {
  const field = fields.find((one) => one.name === name);
  return field !== undefined && !field.key && field.control !== 'secret' && field.control !== 'secret-area';
}

/** The settings of a channel as they may leave the server: of what is a key only that there is one. */
export function toldSettings(kind: Described, settings: object): Settings {
  const entries = Object.entries(settings).map(([name, value]: [string, unknown]) => [
    name,
    isOpen(kind, name) || value === '' ? value : KEPT,
  ]);
  return Object.fromEntries(entries) as Settings;
}

/** Settings as they are sent back, without what is to stay as it is. */
export function withoutKept(settings: object): Settings {
  return Object.fromEntries(Object.entries(settings).filter(([, value]) => !isKept(value)));
}

/**
 * The secrets that were given for another place than the one they would now be sent to: a secret belongs to one place,
 * and whoever changes that has to know it.
 */
export function secretsOfElsewhere(kind: Described, before: Settings, change: Settings): string[] {
  const moved = PLACES.some((name) => name in change && change[name] !== before[name]);
  if (!moved) return [];
  return Object.keys(before).filter((name) => {
    const value = before[name];
    return (
      !isOpen(kind, name) &&
      !PLACES.includes(name) &&
      typeof value === 'string' &&
      value !== '' &&
      !(name in change)
    );
  });
}
