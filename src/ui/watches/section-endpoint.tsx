'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';
import { Confirm } from '@/ui/basic/confirm';
import { CopyLine } from '@/ui/basic/copy-line';
import { TextField } from '@/ui/form/fields';

interface SectionDoorProps {
  sectionId: number;
  /** Where its jobs report, without the name at the end; null while closed. */
  address: string | null;
  mostNew: number;
}

/** Readable check-in addresses of a section: opened, closed, renewed, and whether unknown names are welcome. */
export function SectionEndpoint({ sectionId, address, mostNew }: SectionDoorProps) {
  const router = useRouter();
  const [most, setMost] = useState(String(mostNew));
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [problem, setProblem] = useState<string | null>(null);
  const send = async (wish: { open: boolean; renew?: boolean }): Promise<string | null> => {
    const body = { ...wish, mostNew: Number.isNaN(Number(most)) ? most : Number(most) };
    const result = await callApi('POST', `/sections/${sectionId}/checkin-address`, body);
    setErrors(result.ok ? {} : result.fields);
    setProblem(result.ok || Object.keys(result.fields).length > 0 ? null : result.detail);
    router.refresh();
    return result.ok ? null : result.detail;
  };
  return (
    <div className="border-rule mt-2 flex max-w-xl flex-col gap-3 border-t pt-3 pb-2">
      <h3 className="font-sans text-[0.875rem] font-semibold">Readable check-in addresses</h3>
      {address === null ? (
        <>
          <p className="text-muted text-[0.8438rem]">
            Jobs of this section may report to an address that ends in their name, under one secret for all.
          </p>
          <div>
            <Button onClick={() => void send({ open: true })}>Open them</Button>
          </div>
        </>
      ) : (
        <>
          <CopyLine label="A job’s readable name goes behind it" text={address} />
          <div className="flex flex-wrap items-end gap-3">
            <TextField
              label="Unknown names that may make a check-in"
              help="0 for none. Each is announced when it first reports."
              inputMode="numeric"
              error={errors.mostNew}
              value={most}
              onChange={(event) => setMost(event.target.value)}
            />
            <Button onClick={() => void send({ open: true })}>Save</Button>
          </div>
          <div className="flex flex-wrap gap-2">
            <Confirm
              trigger="New secret"
              title="Give the section a new secret?"
              action="Make a new one"
              onConfirm={() => send({ open: true, renew: true })}
            >
              The addresses under the old secret stop counting at once; those with a random key go on.
            </Confirm>
            <Confirm
              trigger="Close them"
              title="Close the readable addresses?"
              action="Close them"
              onConfirm={() => send({ open: false })}
            >
              They stop counting at once; addresses with a random key go on.
            </Confirm>
          </div>
        </>
      )}
      {problem && (
        <p role="alert" className="text-down-text font-semibold">
          {problem}
        </p>
      )}
    </div>
  );
}
