'use client';

import { useRouter } from 'next/navigation';
import { useState, type FormEvent } from 'react';
import { STAGES, STAGE_TITLES, type Stage } from '@/core/pages/incident';
import { Button } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';
import { AreaField, Field, FormMessage, INPUT_CLASS, TextField } from '@/ui/form/fields';

interface IncidentFormProps {
  /** A new incident on this page, or an update to that one. */
  on: { pageId: number } | { incidentId: number };
  stage: Stage;
}

/** Tells the public: a new incident with its first update, or one more update. */
export function IncidentForm({ on, stage: firstStage }: IncidentFormProps) {
  const router = useRouter();
  const isNew = 'pageId' in on;
  const [title, setTitle] = useState('');
  const [stage, setStage] = useState<Stage>(firstStage);
  const [body, setBody] = useState('');
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    const result = isNew
      ? await callApi('POST', `/pages/${on.pageId}/incidents`, { title, stage, body })
      : await callApi('POST', `/incidents/${on.incidentId}/updates`, { stage, body });
    setBusy(false);
    if (!result.ok) {
      setErrors(result.fields);
      setProblem(Object.keys(result.fields).length > 0 ? null : result.detail);
      return;
    }
    setTitle('');
    setBody('');
    setErrors({});
    setProblem(null);
    router.refresh();
  };
  return (
    <form
      onSubmit={submit}
      noValidate
      className="flex flex-col gap-3"
      aria-label={isNew ? 'New incident' : 'Add an update'}
    >
      {isNew && (
        <TextField
          label="Title"
          placeholder="Online booking is not answering"
          value={title}
          error={errors.title}
          onChange={(event) => setTitle(event.target.value)}
        />
      )}
      <Field label="Stage" error={errors.stage}>
        {(props) => (
          <select
            {...props}
            className={`${INPUT_CLASS} max-w-64`}
            value={stage}
            onChange={(event) => setStage(event.target.value as Stage)}
          >
            {STAGES.map((s) => (
              <option key={s} value={s}>
                {STAGE_TITLES[s]}
              </option>
            ))}
          </select>
        )}
      </Field>
      <AreaField
        label="What the public should know"
        help="Markdown: **bold**, lists, [links](https://…)."
        rows={3}
        value={body}
        error={errors.body}
        onChange={(event) => setBody(event.target.value)}
      />
      <div>
        <Button type="submit" look={isNew ? 'strong' : 'plain'} disabled={busy}>
          {busy ? 'Publishing…' : isNew ? 'Publish the incident' : 'Publish the update'}
        </Button>
      </div>
      <FormMessage text={problem} />
    </form>
  );
}
