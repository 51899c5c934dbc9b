'use client';

import { useRouter } from 'next/navigation';
import { STAGES, STAGE_TITLES, type Stage } from '@/core/pages/incident';
import { Button } from '@/ui/basic/button';
import { AreaField, TextField, SelectField } from '@/ui/form/fields';
import { FormEnd } from '@/ui/form/form-end';
import { useApiForm } from '@/ui/form/use-api-form';
import { OwnForm } from '@/ui/form/own-form';

interface IncidentFormProps {
  /** A new incident on this page, or an update to that one. */
  on: { pageId: number } | { incidentId: number };
  stage: Stage;
}

/** Tells the public: a new incident with its first update, or one more update. */
export function IncidentForm({ on, stage: firstStage }: IncidentFormProps) {
  const router = useRouter();
  const isNew = 'pageId' in on;
  const form = useApiForm({ title: '', stage: firstStage, body: '' });
  const submit = async () => {
    const { title, ...update } = form.values;
    const sent = isNew
      ? await form.send('POST', `/pages/${on.pageId}/incidents`, { title, ...update })
      : await form.send('POST', `/incidents/${on.incidentId}/updates`, update);
    if (!sent) return;
    form.set({ title: '', body: '' });
    router.refresh();
  };
  return (
    <OwnForm
      onSend={submit}
      className="flex flex-col gap-3"
      aria-label={isNew ? 'New incident' : 'Add an update'}
    >
      {isNew && (
        <TextField label="Title" placeholder="Online booking is not answering" {...form.field('title')} />
      )}
      <SelectField
        label="Stage"
        error={form.errors.stage}
        className="max-w-64"
        value={form.values.stage}
        options={STAGES.map((stage) => ({ value: stage, text: STAGE_TITLES[stage] }))}
        onChoose={(one) => form.set({ stage: one as Stage })}
      />
      <AreaField
        label="What the public should know"
        help="Markdown: **bold**, lists, [links](https://…)."
        rows={3}
        {...form.field('body')}
      />
      <div>
        <Button type="submit" look={isNew ? 'strong' : 'plain'} disabled={form.busy}>
          {form.busy ? 'Publishing…' : isNew ? 'Publish the incident' : 'Publish the update'}
        </Button>
      </div>
      <FormEnd form={form} />
    </OwnForm>
  );
}
