'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { Confirm } from '@/ui/basic/confirm';
import { CopyLine } from '@/ui/basic/copy-line';
import { NameLine } from '@/ui/form/name-line';
import { problemOf } from '@/ui/basic/call-api';
import { Time } from '@/ui/form/zone';

interface JobAddressProps {
  watchId: number;
  address: string;
  /** The mail address; null while no mail is taken in. */
  mail: string | null;
  /** The readable address, where its section has one. */
  readable: string | null;
  readableName: string | null;
  section: string | null;
  oldKey: { until: number; usedAt: number | null } | null;
  now: number;
}

/** Where a job reports: its random address, a readable one, and how the first is changed. */
export function JobAddress(props: JobAddressProps) {
  const { watchId, address, mail, readable, readableName, section, oldKey, now } = props;
  const router = useRouter();
  const [naming, setNaming] = useState(false);
  const rename = async (name: string) => {
    const refused = await problemOf('POST', `/watches/${watchId}/checkin-name`, { name: name || null });
    if (refused === null) setNaming(false);
    router.refresh();
    return refused;
  };
  return (
    <div className="flex flex-col gap-3">
      <CopyLine label="Check-in address" text={address} />
      {readable && <CopyLine label="Readable address" text={readable} />}
      {mail && <CopyLine label="Mail address" text={mail} />}
      {readableName && !readable && (
        <p className="text-muted text-[0.8438rem]">
          Its readable name is “{readableName}”; the section {section} has no readable addresses open.
        </p>
      )}
      {oldKey && oldKey.until > now && (
        <p className="text-[0.875rem]">
          The old address counts until <Time at={oldKey.until} />;{' '}
          {oldKey.usedAt === null ? (
            'nobody has used it since.'
          ) : (
            <>
              last used <Time at={oldKey.usedAt} as="moment" />.
            </>
          )}
        </p>
      )}
      <div className="flex flex-wrap gap-2">
        <Confirm
          trigger="New address"
          title="Give it a new address?"
          action="Make a new one"
          onConfirm={async () => {
            const refused = await problemOf('POST', `/watches/${watchId}/key`, {});
            router.refresh();
            return refused;
          }}
        >
          The old one counts for seven more days, so that nothing is missed while you change the job.
        </Confirm>
        {section !== null && !naming && (
          <Button onClick={() => setNaming(true)}>
            {readableName ? 'Change the readable name' : 'Readable name'}
          </Button>
        )}
      </div>
      {naming && (
        <NameLine
          label="Readable name"
          initial={readableName ?? ''}
          action="Save"
          placeholder="nightly-manifest"
          onLeave={() => setNaming(false)}
          onSave={rename}
        />
      )}
    </div>
  );
}
