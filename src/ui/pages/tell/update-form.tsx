'use client';

import { useRouter } from 'next/navigation';
import { STAGES, STAGE_TITLES, type IncidentKind, type Stage } from '@/core/pages/incident';
import { Button } from '@/ui/basic/button';
import {} from '@/ui/form/fields';
import { MomentField } from '@/ui/form/moment-field';
import { FormEnd } from '@/ui/form/form-end';
import { OwnForm } from '@/ui/form/own-form';
import { useApiForm } from '@/ui/form/use-api-form';
import { useDraft } from '@/ui/form/use-draft';
import { isoOf, localOf } from '../form/values';
import { MarkdownField } from './markdown-field';
import { Segments } from './segments';

interface UpdateFormProps {
  incidentId: number;
  kind: IncidentKind;
  stage: Stage;
  version: string;
  /** When the outage behind it ended, ms since 1970; null while it lasts, or where there is none. */
  outageEnded: number | null;
}

interface UpdateValues {
  stage: Stage;
  body: string;
  endedAt: string;
}

const keep = (values: UpdateValues) => values;
const STAGE_OPTIONS = STAGES.map((value) => ({ value, text: STAGE_TITLES[value] }));

/** One more update; the last one says since when it is over. */
export function UpdateForm({ incidentId, kind, stage: first, version, outageEnded }: UpdateFormProps) {
  const router = useRouter();
  const initial: UpdateValues = {
    stage: first,
    body: '',
    endedAt: outageEnded === null ? '' : localOf(outageEnded),
  };
  const form = useApiForm(initial, { version });
  const { stage, endedAt } = form.values;
  const draft = useDraft(`update-${incidentId}`, form.values, initial, { keep, restore: form.setValues });
  const send = async (over = false) => {
    const body = { ...form.values, endedAt: stage === 'over' && endedAt !== '' ? isoOf(endedAt) : null };
    if (!(await form.send('POST', `/incidents/${incidentId}/updates`, body, over))) return;
    draft.forget(true);
    form.set({ body: '' });
    router.refresh();
  };
  return (
    <OwnForm onSend={() => send()} className="flex flex-col gap-4" aria-label="Add an update">
      {kind === 'incident' && (
        <Segments
          label="How far you are"
          value={stage}
          options={STAGE_OPTIONS}
          onChoose={(chosen) => form.set({ stage: chosen })}
        />
      )}
      {kind === 'incident' && stage === 'over' && (
        <MomentField
          label="Over since"
          help={
            outageEnded === null
              ? 'Left empty: now.'
              : 'When the outage ended; change it where that is not what visitors saw.'
          }
          {...form.field('endedAt')}
        />
      )}
      <MarkdownField
        label="What visitors should know"
        rows={3}
        value={form.values.body}
        error={form.errors.body}
        onType={(body) => form.set({ body })}
      />
      <div>
        <Button type="submit" disabled={form.busy}>
          {form.busy ? 'Publishing…' : 'Publish the update'}
        </Button>
      </div>
      <FormEnd form={form} onOver={() => void send(true)} />
    </OwnForm>
  );
}
