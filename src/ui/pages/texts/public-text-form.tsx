'use client';

import { useRouter } from 'next/navigation';
import { PUBLIC_TEXT_VALUES, type PublicText } from '@/core/pages/public-text';
import { Button } from '@/ui/basic/button';
import { DeleteThroughApi } from '@/ui/basic/delete-through-api';
import { AreaField, TextField } from '@/ui/form/fields';
import { FormEnd } from '@/ui/form/form-end';
import { OwnForm } from '@/ui/form/own-form';
import { useApiForm } from '@/ui/form/use-api-form';
import { sayDone } from '@/ui/shell/done-notice';

interface PublicTextFormProps {
  initial: PublicText;
  /** Of one that is changed. */
  id?: number;
  version?: string;
}

const EMPTY: PublicText = { name: '', title: '', body: '', over: '' };

/** Makes or changes a text for the public that is used again. */
export function PublicTextForm({ initial, id, version }: PublicTextFormProps) {
  const router = useRouter();
  const form = useApiForm(initial, { version });
  const submit = async (over = false) => {
    const path = id === undefined ? '/public-texts' : `/public-texts/${id}`;
    if (!(await form.send(id === undefined ? 'POST' : 'PATCH', path, form.values, over))) return;
    if (id === undefined) form.set(EMPTY);
    // A form of one there was before is drawn anew.
    sayDone({ said: id === undefined ? 'The text is kept.' : 'The text is changed.' });
    router.refresh();
  };
  return (
    <OwnForm
      onSend={() => submit()}
      className="flex flex-col gap-3"
      aria-label={id === undefined ? 'A new text' : `Change ${initial.name}`}
    >
      <TextField label="Name" placeholder="Out" help="Only you see it." {...form.field('name')} />
      <TextField label="Title" placeholder="{{ service }} is out" {...form.field('title')} />
      <AreaField
        label="What visitors should know"
        rows={3}
        placeholder="{{ service }} has been out since {{ since }}. We are looking into it."
        help={`Markdown. It may name ${Object.keys(PUBLIC_TEXT_VALUES)
          .map((name) => `{{ ${name} }}`)
          .join(', ')}.`}
        {...form.field('body')}
      />
      <AreaField
        label="Once it is over"
        rows={2}
        placeholder="{{ service }} was out for {{ length }}, until {{ ended }}."
        help="A section that tells by itself needs it."
        {...form.field('over')}
      />
      <div className="flex gap-2">
        <Button type="submit" look={id === undefined ? 'strong' : 'plain'} disabled={form.busy}>
          {id === undefined ? 'Keep it' : 'Save'}
        </Button>
        {id !== undefined && (
          <DeleteThroughApi
            path={`/public-texts/${id}`}
            title={`Delete “${initial.name}”?`}
            explanation="Sections that tell with it tell nothing by themselves any more. What was published stays."
          />
        )}
      </div>
      <FormEnd form={form} onOver={() => void submit(true)} />
    </OwnForm>
  );
}
