import { newCheckinKey } from '@/accounts/secrets';
import { capitalise } from '@/core/text/words';
import { saveFirstContact, type OpenSection } from '@/store/watches/checkin-endpoints';
import type { Principal } from '@/cases/frame/principal';
import { asIs, changes } from '@/cases/frame/use-case';
import { tellEngine } from '@/cases/watches/around';

/** What a job may do that reports by itself: make its own check-in, where its section is open to that. */
export function jobAt(address: string): Principal {
  return { type: 'job', address, rights: new Set(['operate']) };
}

interface Contact {
  section: OpenSection;
  /** The readable end of the address it reported to. */
  name: string;
}

/** Makes the check-in of a job that reports for the first time; null where its section is full. */
export const makeFirstContact = changes(
  'makeFirstContact',
  'operate',
  asIs<Contact>,
  async ({ trx, now, who, about, afterwards, world }, { section, name }): Promise<number | null> => {
    const spaced = name.replaceAll(/[-_.]+/g, ' ').trim();
    const watchName = capitalise(spaced === '' ? name : spaced);
    const id = await saveFirstContact(trx, section, {
      checkinName: name,
      watchName,
      checkinKey: newCheckinKey(),
      at: now,
      address: who.type === 'job' ? who.address : '',
    });
    if (id === null) return null;
    about({ kind: 'watch', id, name: watchName });
    afterwards(() => tellEngine(world, [id]));
    return id;
  },
);
