'use client';

import { useRouter } from 'next/navigation';
import { useState, type FormEvent } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';
import { FormMessage, TextField } from '@/ui/form/fields';
import { useZone } from '@/ui/form/zone';

interface WindowFormProps {
  watches: { id: number; name: string }[];
}

/** What a date-and-time field holds, as ISO 8601; the text itself where it is no moment. */
function isoOf(local: string): string {
  const at = new Date(local);
  return Number.isNaN(at.getTime()) ? local : at.toISOString();
}

/** Plans maintenance: no messages and no downtime counted meanwhile, and the public is told ahead. */
export function WindowForm({ watches }: WindowFormProps) {
  const router = useRouter();
  const zone = useZone();
  const [title, setTitle] = useState('');
  const [begins, setBegins] = useState('');
  const [ends, setEnds] = useState('');
  const [chosen, setChosen] = useState<number[]>([]);
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [problem, setProblem] = useState<string | null>(null);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const body = { title, watchIds: chosen, from: isoOf(begins), until: isoOf(ends) };
    const result = await callApi('POST', '/windows', body);
    if (!result.ok) {
      setErrors(result.fields);
      setProblem(Object.keys(result.fields).length > 0 ? null : result.detail);
      return;
    }
    setTitle('');
    setChosen([]);
    setErrors({});
    setProblem(null);
    router.refresh();
  };
  return (
    <form
      onSubmit={submit}
      noValidate
      className="sheet flex flex-col gap-3 p-5"
      aria-label="Plan maintenance"
    >
      <h2>Plan maintenance</h2>
      <TextField
        label="Title"
        help="The public reads it on pages that show one of the watches."
        placeholder="New mast for the harbour camera"
        value={title}
        error={errors.title}
        onChange={(event) => setTitle(event.target.value)}
      />
      <TextField
        label="Begins"
        type="datetime-local"
        help={`In ${zone}.`}
        value={begins}
        error={errors.from}
        onChange={(event) => setBegins(event.target.value)}
      />
      <TextField
        label="Ends"
        type="datetime-local"
        value={ends}
        error={errors.until}
        onChange={(event) => setEnds(event.target.value)}
      />
      <fieldset>
        <legend className="font-semibold">Watches</legend>
        <div className="border-edge mt-1 max-h-44 overflow-y-auto rounded-lg border px-3 py-1.5" tabIndex={0}>
          {watches.length === 0 && <p className="text-muted">There is no watch yet.</p>}
          {watches.map((watch) => (
            <label key={watch.id} className="flex items-center gap-2 py-0.5">
              <input
                type="checkbox"
                checked={chosen.includes(watch.id)}
                onChange={(event) =>
                  setChosen(
                    event.target.checked ? [...chosen, watch.id] : chosen.filter((id) => id !== watch.id),
                  )
                }
              />
              {watch.name}
            </label>
          ))}
        </div>
        {errors.watchIds && <p className="text-down-text text-[0.875rem] font-semibold">{errors.watchIds}</p>}
      </fieldset>
      <div>
        <Button type="submit" look="strong">
          Plan it
        </Button>
      </div>
      <FormMessage text={problem} />
    </form>
  );
}
