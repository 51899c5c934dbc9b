'use client';

import { useRouter } from 'next/navigation';
import { Button } from '@/ui/basic/button';
import { TextField } from '@/ui/form/fields';
import { FormEnd } from '@/ui/form/form-end';
import { useApiForm } from '@/ui/form/use-api-form';
import { useZone } from '@/ui/form/zone';
import { OwnForm } from '@/ui/form/own-form';
import { isoOf } from './form/values';

interface WindowFormProps {
  watches: { id: number; name: string }[];
}

/** Plans maintenance: no messages and no downtime counted meanwhile, and the public is told ahead. */
export function WindowForm({ watches }: WindowFormProps) {
  const router = useRouter();
  const zone = useZone();
  const form = useApiForm({ title: '', from: '', until: '', watchIds: [] as number[] });
  const submit = async () => {
    const { from, until, ...rest } = form.values;
    if (!(await form.send('POST', '/windows', { ...rest, from: isoOf(from), until: isoOf(until) }))) return;
    form.set({ title: '', watchIds: [] });
    router.refresh();
  };
  const { watchIds } = form.values;
  return (
    <OwnForm sheet onSend={submit} aria-label="Plan maintenance">
      <h2>Plan maintenance</h2>
      <TextField
        label="Title"
        help="The public reads it on pages that show one of the watches."
        placeholder="New mast for the harbour camera"
        {...form.field('title')}
      />
      <TextField label="Begins" type="datetime-local" help={`In ${zone}.`} {...form.field('from')} />
      <TextField label="Ends" type="datetime-local" {...form.field('until')} />
      <fieldset>
        <legend className="font-semibold">Watches</legend>
        <div className="border-edge mt-1 max-h-44 overflow-y-auto rounded-lg border px-3 py-1.5" tabIndex={0}>
          {watches.length === 0 && <p className="text-muted">There is no watch yet.</p>}
          {watches.map((watch) => (
            <label key={watch.id} className="flex items-center gap-2 py-0.5">
              <input
                type="checkbox"
                checked={watchIds.includes(watch.id)}
                onChange={(event) =>
                  form.set({
                    watchIds: event.target.checked
                      ? [...watchIds, watch.id]
                      : watchIds.filter((id) => id !== watch.id),
                  })
                }
              />
              {watch.name}
            </label>
          ))}
        </div>
        {form.errors.watchIds && (
          <p className="text-down-text text-[0.875rem] font-semibold">{form.errors.watchIds}</p>
        )}
      </fieldset>
      <div>
        <Button type="submit" look="strong" disabled={form.busy}>
          Plan it
        </Button>
      </div>
      <FormEnd form={form} />
    </OwnForm>
  );
}
