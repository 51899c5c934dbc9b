'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { CopyLine } from '@/ui/basic/copy-line';
import { AreaField, SelectField, TextField } from '@/ui/form/fields';
import { FileButton } from '@/ui/form/file-button';
import { FormEnd } from '@/ui/form/form-end';
import { OwnForm } from '@/ui/form/own-form';
import { useApiForm } from '@/ui/form/use-api-form';

const KINDS = [
  { value: 'mail', text: 'a mailbox' },
  { value: 'webhook', text: 'a program, by signed events' },
];

/** Adds somebody who asked elsewhere: how that is known is kept with them. */
export function AddFollower({ pageId }: { pageId: number }) {
  const router = useRouter();
  const [secret, setSecret] = useState<string | null>(null);
  const form = useApiForm({ kind: 'mail', address: '', consent: '' });
  const submit = async () => {
    const made = await form.send<{ secret: string | null }>(
      'POST',
      `/pages/${pageId}/followers`,
      form.values,
    );
    if (!made) return;
    setSecret(made.value.secret);
    form.set({ address: '' });
    form.say('Added.', true);
    router.refresh();
  };
  return (
    <OwnForm onSend={submit} className="flex flex-col gap-3" aria-label="Add a follower">
      <SelectField
        label="Told is"
        value={form.values.kind}
        options={KINDS}
        onChoose={(kind) => form.set({ kind })}
      />
      <TextField
        label={form.values.kind === 'mail' ? 'Mail address' : 'Address events are posted to'}
        {...form.field('address')}
      />
      <TextField
        label="How you know that they want it"
        placeholder="asked for it at the ticket office"
        {...form.field('consent')}
      />
      <div>
        <Button type="submit" disabled={form.busy}>
          Add
        </Button>
      </div>
      <FormEnd form={form} />
      {secret && (
        <div>
          <p className="text-[0.875rem]">Its events are signed with this secret, which is not shown again:</p>
          <CopyLine label="Signing secret" text={secret} />
        </div>
      )}
    </OwnForm>
  );
}

interface Imported {
  added: number;
  known: number;
  refused: { line: number; text: string }[];
}

/** Takes a list of addresses in, with how it is known that they want it. */
export function ImportFollowers({ pageId }: { pageId: number }) {
  const router = useRouter();
  const [report, setReport] = useState<Imported | null>(null);
  const form = useApiForm({ list: '', consent: '' });
  const submit = async () => {
    const done = await form.send<Imported>('POST', `/pages/${pageId}/followers/import`, form.values);
    setReport(done?.value ?? null);
    if (!done) return;
    form.set({ list: '' });
    router.refresh();
  };
  return (
    <OwnForm onSend={submit} className="flex flex-col gap-3" aria-label="Take a list in">
      <AreaField
        label="Mail addresses"
        help="One a line, or CSV with the address in its first column."
        {...form.field('list')}
      />
      <TextField label="How you know that they want it" {...form.field('consent')} />
      <div className="flex flex-wrap gap-2">
        <Button type="submit" disabled={form.busy}>
          Take them in
        </Button>
        <FileButton
          label="A file with mail addresses"
          accept=".csv,.txt,text/csv,text/plain"
          onRead={(list) => form.set({ list })}
          onRefused={(problem) => form.say(problem)}
        >
          Read a file
        </FileButton>
      </div>
      <FormEnd form={form} />
      {report && (
        <div role="status" className="text-[0.875rem]">
          <p className="font-semibold">
            {report.added} added{report.known > 0 && `, ${report.known} follow already`}.
          </p>
          {report.refused.map(({ line, text }) => (
            <p key={line} className="text-late-text">
              Line {line} holds no mail address: “{text}”
            </p>
          ))}
        </div>
      )}
    </OwnForm>
  );
}

/** Tells somebody again who was put aside. */
export function WakeFollower({ id }: { id: number }) {
  const router = useRouter();
  const form = useApiForm({});
  return (
    <>
      <Button
        disabled={form.busy}
        onClick={async () => {
          await form.send('POST', `/followers/${id}/wake`, {});
          router.refresh();
        }}
      >
        Tell them again
      </Button>
      <FormEnd form={form} />
    </>
  );
}
