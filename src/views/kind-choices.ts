import { probeKinds } from '../probes/registry';
import type { FieldDescription } from '../probes/kind';

export interface KindChoice {
  id: string;
  title: string;
  help: string;
  fields: FieldDescription[];
}

/** What the form offers to watch. */
export function kindChoices(): KindChoice[] {
  return [
    ...probeKinds().map(({ id, title, help, fields }) => ({ id, title, help, fields })),
    {
      id: 'checkin',
      title: 'check-in',
      help: 'A scheduled job reports here when it has run; you hear when it stays away.',
      fields: [],
    },
  ];
}
