import { probeKinds } from '@/probes/kinds/registry';
import type { FieldDescription } from '@/core/settings/field-description';

export interface KindChoice {
  id: string;
  title: string;
  help: string;
  fields: FieldDescription[];
  /** The settings it begins with. */
  defaults: object;
  /** Seconds between two looks where nothing else is said. */
  every: number;
}

/** What the form offers to watch. */
export function kindChoices(): KindChoice[] {
  return [
    ...probeKinds().map(({ id, title, help, fields, defaults, every = 60 }) => ({
      id,
      title,
      help,
      fields,
      defaults,
      every,
    })),
    {
      id: 'checkin',
      title: 'check-in',
      help: 'A scheduled job reports here when it has run; you hear when it stays away.',
      fields: [],
      defaults: {},
      every: 60,
    },
  ];
}
