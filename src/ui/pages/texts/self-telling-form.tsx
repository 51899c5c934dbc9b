'use client';

import { useRouter } from 'next/navigation';
import { Button } from '@/ui/basic/button';
import { SelectField, TextField } from '@/ui/form/fields';
import { FormEnd } from '@/ui/form/form-end';
import { OwnForm } from '@/ui/form/own-form';
import { Ticks } from '@/ui/form/ticks';
import { useApiForm } from '@/ui/form/use-api-form';

interface Named {
  id: number;
  name: string;
}

interface SelfTellingFormProps {
  section: Named;
  texts: Named[];
  pages: Named[];
  /** How it tells now; null where it does not. */
  now: { textId: number; afterMinutes: number; pageIds: number[] } | null;
}

const USUAL_MINUTES = 15;

/** Whether a section tells the public by itself: after how long, with which text, on which pages. */
export function SelfTellingForm({ section, texts, pages, now }: SelfTellingFormProps) {
  const router = useRouter();
  const form = useApiForm({
    textId: now ? String(now.textId) : '',
    afterMinutes: String(now?.afterMinutes ?? USUAL_MINUTES),
    pageIds: now?.pageIds ?? [],
  });
  const { values, set, errors } = form;
  const path = `/sections/${section.id}/self-telling`;
  const submit = async () => {
    const { textId, afterMinutes, pageIds } = values;
    const sent =
      textId === ''
        ? await form.send('DELETE', path)
        : await form.send('POST', path, {
            textId: Number(textId),
            afterMinutes: Number(afterMinutes),
            pageIds,
          });
    if (!sent) return;
    form.say('Kept.', true);
    router.refresh();
  };
  return (
    <OwnForm onSend={submit} className="flex flex-col gap-3" aria-label={`${section.name} tells by itself`}>
      <h3>{section.name}</h3>
      <SelectField
        label="Tells with"
        value={values.textId}
        error={errors.textId}
        options={[
          { value: '', text: 'nothing by itself' },
          ...texts.map(({ id, name }) => ({ value: String(id), text: name })),
        ]}
        onChoose={(textId) => set({ textId })}
      />
      {values.textId !== '' && (
        <>
          <TextField
            label="After so many minutes of being out"
            type="number"
            min={1}
            {...form.field('afterMinutes')}
          />
          <Ticks
            label="On"
            options={pages.map(({ id, name }) => ({ value: String(id), text: name }))}
            chosen={values.pageIds.map(String)}
            onChange={(ids) => set({ pageIds: ids.map(Number) })}
          />
          {errors.pageIds && <p className="text-down-text text-[0.875rem] font-semibold">{errors.pageIds}</p>}
        </>
      )}
      <div>
        <Button type="submit" disabled={form.busy}>
          Save
        </Button>
      </div>
      <FormEnd form={form} />
    </OwnForm>
  );
}
