'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { STAGE_TITLES, type IncidentKind } from '@/core/pages/incident';
import type { EarlierText, IncidentUpdate } from '@/store/pages/incidents';
import { Button } from '@/ui/basic/button';
import { Markdown } from '@/ui/basic/markdown';
import { FormEnd } from '@/ui/form/form-end';
import { OwnForm } from '@/ui/form/own-form';
import { useApiForm } from '@/ui/form/use-api-form';
import { Time } from '@/ui/form/zone';
import { MarkdownField } from './markdown-field';

interface UpdatesProps {
  incidentId: number;
  kind: IncidentKind;
  version: string;
  updates: readonly IncidentUpdate[];
  earlier: readonly EarlierText[];
}

interface OneProps extends Omit<UpdatesProps, 'updates'> {
  update: IncidentUpdate;
}

function Correction({ incidentId, version, update, onDone }: OneProps & { onDone: () => void }) {
  const router = useRouter();
  const form = useApiForm({ body: update.body }, { version });
  const send = async (over = false) => {
    const path = `/incidents/${incidentId}/updates/${update.id}`;
    if (!(await form.send('PATCH', path, form.values, over))) return;
    onDone();
    router.refresh();
  };
  return (
    <OwnForm onSend={() => send()} className="flex flex-col gap-2" aria-label="Correct the update">
      <MarkdownField
        label="What it should say"
        help="It is marked as corrected; what it said before is kept here, and shown to nobody else."
        rows={3}
        value={form.values.body}
        error={form.errors.body}
        onType={(body) => form.set({ body })}
      />
      <div className="flex gap-2">
        <Button type="submit" look="strong" disabled={form.busy}>
          Correct it
        </Button>
        <Button onClick={onDone}>Leave it</Button>
      </div>
      <FormEnd form={form} onOver={() => void send(true)} />
    </OwnForm>
  );
}

function Update(props: OneProps) {
  const { update, kind, earlier } = props;
  const [correcting, setCorrecting] = useState(false);
  const before = earlier.filter(({ updateId }) => updateId === update.id);
  return (
    <li className="grid gap-x-4 sm:grid-cols-[9.5rem_1fr]">
      <span className="figures text-muted text-[0.8438rem]">
        <Time at={update.at} />
        {update.correctedAt !== null && (
          <>
            , corrected <Time at={update.correctedAt} />
          </>
        )}
      </span>
      {correcting ? (
        <Correction {...props} onDone={() => setCorrecting(false)} />
      ) : (
        <div>
          <div className="prose-inline">
            {kind === 'incident' && <strong>{STAGE_TITLES[update.stage]}.</strong>}{' '}
            <Markdown text={update.body} />
          </div>
          <button
            type="button"
            className="text-muted text-[0.8438rem] underline"
            onClick={() => setCorrecting(true)}
          >
            Correct it
          </button>
          {before.length > 0 && (
            <details className="text-muted text-[0.8438rem]">
              <summary className="cursor-pointer">What it said before</summary>
              {before.map(({ at, body }) => (
                <div key={at}>
                  Until <Time at={at} />: <Markdown text={body} />
                </div>
              ))}
            </details>
          )}
        </div>
      )}
    </li>
  );
}

/** The course of an incident, the newest update first; each can be corrected. */
export function Updates({ updates, ...rest }: UpdatesProps) {
  return (
    <ol className="flex flex-col gap-3">
      {updates.map((update) => (
        <Update key={update.id} update={update} {...rest} />
      ))}
    </ol>
  );
}
