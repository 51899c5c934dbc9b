'use client';

import { useRouter } from 'next/navigation';
import type { IncidentKind } from '@/core/pages/incident';
import { callApi } from '@/ui/basic/call-api';
import { Button } from '@/ui/basic/button';
import { TextField } from '@/ui/form/fields';
import { MomentField } from '@/ui/form/moment-field';
import { FormEnd } from '@/ui/form/form-end';
import { OwnForm } from '@/ui/form/own-form';
import { useApiForm } from '@/ui/form/use-api-form';
import type { PickableWatch } from '@/ui/form/watch-picker';
import { sayDone } from '@/ui/shell/done-notice';
import { isoOf, localOf } from '../form/values';
import { AffectedField, type AffectedValue } from './affected-field';
import { MarkdownField } from './markdown-field';

interface FactsProps {
  incident: {
    id: number;
    kind: IncidentKind;
    title: string;
    began: number;
    ended: number | null;
    affected: AffectedValue[];
    account: string;
  };
  version: string;
  watches: PickableWatch[];
}

/** Title, dates and what is affected: whatever was known too late or wrong at first. */
export function FactsForm({ incident, version, watches }: FactsProps) {
  const router = useRouter();
  const { id, kind, title, began, ended, affected } = incident;
  const form = useApiForm(
    { title, beganAt: localOf(began), endedAt: ended === null ? '' : localOf(ended), affected },
    { version },
  );
  const { values } = form;
  const save = async (over = false) => {
    // A field holds minutes; what nobody touched stays to the millisecond.
    const at = (typed: string, before: number | null) =>
      before !== null && typed === localOf(before) ? new Date(before).toISOString() : isoOf(typed);
    const body = {
      ...values,
      beganAt: at(values.beganAt, began),
      endedAt: values.endedAt === '' ? null : at(values.endedAt, ended),
    };
    if (!(await form.send('PATCH', `/incidents/${id}`, body, over))) return;
    // The form itself is drawn anew.
    sayDone({ said: 'The facts are saved.' });
    router.refresh();
  };
  return (
    <OwnForm sheet onSend={() => save()} aria-label="Change the facts">
      <h2>The facts</h2>
      <TextField label="Title" {...form.field('title')} />
      <MomentField label={kind === 'incident' ? 'Began' : 'From'} {...form.field('beganAt')} />
      {(kind === 'notice' || ended !== null) && (
        <MomentField label={kind === 'incident' ? 'Over since' : 'Until'} {...form.field('endedAt')} />
      )}
      <AffectedField
        affected={values.affected}
        watches={watches}
        onChange={(all) => form.set({ affected: all })}
      />
      <div>
        <Button type="submit" disabled={form.busy}>
          Save
        </Button>
      </div>
      <FormEnd form={form} onOver={() => void save(true)} />
    </OwnForm>
  );
}

/** What happened, when, and what will change: written once it is over, and shown in the diary. */
export function AccountForm({ incident, version }: Omit<FactsProps, 'watches'>) {
  const router = useRouter();
  const form = useApiForm({ account: incident.account }, { version });
  const draft = async () => {
    const result = await form.whileBusy(() =>
      callApi<{ account: string }>('GET', `/incidents/${incident.id}/account-draft`),
    );
    if (result.ok) form.set({ account: result.value.account });
    else form.say(result.detail);
  };
  const save = async (over = false) => {
    if (!(await form.send('PATCH', `/incidents/${incident.id}`, form.values, over))) return;
    sayDone({ said: 'Saved; it stands with the incident and in the diary.' });
    router.refresh();
  };
  return (
    <OwnForm sheet onSend={() => save()} aria-label="What happened">
      <h2>What happened, and what will change</h2>
      <MarkdownField
        label="For the public"
        rows={8}
        value={form.values.account}
        error={form.errors.account}
        onType={(account) => form.set({ account })}
        tools={
          form.values.account === '' && (
            <button type="button" className="text-[0.875rem] underline" onClick={() => void draft()}>
              Begin with the exact times
            </button>
          )
        }
      />
      <div>
        <Button type="submit" disabled={form.busy}>
          {incident.account === '' ? 'Publish it' : 'Save'}
        </Button>
      </div>
      <FormEnd form={form} onOver={() => void save(true)} />
    </OwnForm>
  );
}
