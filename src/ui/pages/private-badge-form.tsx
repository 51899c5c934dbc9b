'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { SelectField } from '@/ui/form/fields';
import { OwnForm } from '@/ui/form/own-form';
import { FormEnd } from '@/ui/form/form-end';
import { useApiForm } from '@/ui/form/use-api-form';
import { WatchPicker, type PickableWatch } from '@/ui/form/watch-picker';
import type { Named } from './form/sections-field';

interface PrivateBadgeFormProps {
  watches: PickableWatch[];
  sections: Named[];
  tags: Named[];
}

/** Makes badges: of a section, of a tag, or of each of some watches. */
export function PrivateBadgeForm({ watches, sections, tags }: PrivateBadgeFormProps) {
  const router = useRouter();
  const [of, setOf] = useState<'watchId' | 'sectionId' | 'tagId'>('watchId');
  const form = useApiForm({ ids: [] as number[] });
  const { ids } = form.values;
  const make = async () => {
    if (ids.length === 0) return form.say('Choose what it stands for first.');
    for (const [i, id] of ids.entries()) {
      if (!(await form.send('POST', '/private-badges', { [of]: id }))) {
        // What is made already is not made again.
        form.set({ ids: ids.slice(i) });
        return router.refresh();
      }
    }
    form.set({ ids: [] });
    form.say(
      ids.length === 1 ? 'The badge is made; it stands below.' : 'They are made; they stand below.',
      true,
    );
    router.refresh();
  };
  const several = of === 'sectionId' ? sections : tags;
  return (
    <OwnForm onSend={make} className="sheet flex max-w-3xl flex-col gap-4 p-5">
      <SelectField
        label="Stands for"
        value={of}
        options={[
          { value: 'watchId', text: 'a watch' },
          ...(sections.length > 0 ? [{ value: 'sectionId', text: 'a section' }] : []),
          ...(tags.length > 0 ? [{ value: 'tagId', text: 'a tag' }] : []),
        ]}
        onChoose={(value) => {
          setOf(value as typeof of);
          form.set({ ids: [] });
        }}
      />
      {of === 'watchId' ? (
        <WatchPicker
          label="Which watches"
          help="A badge is made of each."
          watches={watches}
          chosen={ids}
          error={form.errors.watchId}
          onChange={(chosen) => form.set({ ids: chosen })}
        />
      ) : (
        <SelectField
          label="Which one"
          value={String(ids[0] ?? '')}
          error={form.errors[of]}
          options={[
            { value: '', text: 'choose one' },
            ...several.map((one) => ({ value: String(one.id), text: one.name })),
          ]}
          onChoose={(value) => form.set({ ids: value === '' ? [] : [Number(value)] })}
        />
      )}
      <div>
        <Button type="submit" look="strong" disabled={form.busy}>
          {ids.length > 1 ? 'Make the badges' : 'Make the badge'}
        </Button>
      </div>
      <FormEnd form={form} />
    </OwnForm>
  );
}
