'use client';

import { useRouter } from 'next/navigation';
import { useState, type FormEvent } from 'react';
import { knowWithinSentence } from '../core/foresight';
import { rulesOf } from '../core/watch-config';
import type { KindChoice } from '../views/kind-choices';
import { Button, ButtonLink } from './button';
import { callApi } from './call-api';
import { CheckinFields } from './checkin-fields';
import { DuePreview } from './due-preview';
import { FormMessage, TextField } from './fields';
import { ProbeTimingFields } from './probe-timing-fields';
import { TrialLook } from './trial-look';
import { configOf, watchBodyOf, type SetValue, type WatchFormValues } from './watch-form-values';

interface WatchFormProps {
  kinds: KindChoice[];
  sections: string[];
  initial: WatchFormValues;
  /** The watch that is changed; a new one is made without. */
  watchId?: number;
  now: number;
}

/** Makes or changes a watch: what to watch, how, and what can be tried before it is saved. */
export function WatchForm({ kinds, sections, initial, watchId, now }: WatchFormProps) {
  const router = useRouter();
  const [values, setValues] = useState(initial);
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const set: SetValue = (key, value) => setValues((old) => ({ ...old, [key]: value }));
  const isCheckin = values.kind === 'checkin';
  const kind = kinds.find((k) => k.id === values.kind);
  const config = configOf(values);

  const refuse = (detail: string, fields: Record<string, string>) => {
    setErrors(fields);
    setProblem(detail === '' ? null : detail);
  };
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    const [method, path] = watchId
      ? (['PATCH', `/watches/${watchId}`] as const)
      : (['POST', '/watches'] as const);
    const result = await callApi<{ id: number }>(method, path, watchBodyOf(values));
    setBusy(false);
    if (result.ok) {
      router.push(`/watches/${result.value.id}`);
      router.refresh();
    } else refuse(result.detail, result.fields);
  };

  return (
    <form onSubmit={submit} noValidate className="grid items-start gap-6 lg:grid-cols-[minmax(0,1fr)_24rem]">
      <div className="flex flex-col gap-5">
        {!watchId && (
          <fieldset>
            <legend className="mb-1 font-semibold">What is it?</legend>
            <div className="flex flex-wrap gap-2">
              {kinds.map((k) => (
                <label
                  key={k.id}
                  className="border-edge has-[:checked]:bg-button has-[:checked]:text-button-ink has-[:focus-visible]:outline-lamp cursor-pointer rounded-lg border px-3 py-1.5 has-[:focus-visible]:outline-2"
                >
                  <input
                    type="radio"
                    name="kind"
                    className="sr-only"
                    checked={values.kind === k.id}
                    onChange={() => {
                      set('kind', k.id);
                      refuse('', {});
                    }}
                  />
                  {k.title}
                </label>
              ))}
            </div>
            <p className="text-muted mt-1 text-[13.5px]">{kind?.help}</p>
          </fieldset>
        )}
        {kind?.fields
          .filter((field) => !field.extra)
          .map((field, i) => (
            <TextField
              key={`${values.kind} ${field.name}`}
              label={field.label}
              help={field.help}
              placeholder={field.placeholder}
              inputMode={field.control === 'number' ? 'numeric' : undefined}
              autoFocus={i === 0 && !watchId}
              error={errors[`settings.${field.name}`]}
              value={values.settings[field.name] ?? ''}
              onChange={(event) => set('settings', { ...values.settings, [field.name]: event.target.value })}
            />
          ))}
        {isCheckin && <CheckinFields values={values} set={set} errors={errors} />}
        <div className="grid gap-5 sm:grid-cols-2">
          <TextField
            label="Name"
            help={isCheckin ? 'What the job is called.' : 'Made from the address when left empty.'}
            placeholder={isCheckin ? 'Nightly manifest backup' : 'Booking site'}
            error={errors.name}
            value={values.name}
            onChange={(event) => set('name', event.target.value)}
          />
          <TextField
            label="Section"
            help="A new name makes a new section."
            list="known-sections"
            placeholder="On the water"
            error={errors.section}
            value={values.section}
            onChange={(event) => set('section', event.target.value)}
          />
          <datalist id="known-sections">
            {sections.map((section) => (
              <option key={section} value={section} />
            ))}
          </datalist>
        </div>
        {!isCheckin && (
          <ProbeTimingFields
            values={values}
            set={set}
            errors={errors}
            extra={kind?.fields.filter((f) => f.extra) ?? []}
          />
        )}
        <p className="font-serif text-lg" role="status">
          {config ? knowWithinSentence(rulesOf(config, values.zone)) : 'Some number is missing above.'}
        </p>
        <div className="flex items-center gap-3">
          <Button type="submit" look="strong" disabled={busy}>
            {busy ? 'Saving…' : watchId ? 'Save changes' : 'Save watch'}
          </Button>
          <ButtonLink href={watchId ? `/watches/${watchId}` : '/'}>Leave it</ButtonLink>
        </div>
        <FormMessage text={problem} />
      </div>
      {isCheckin ? (
        <section className="sheet p-5">
          {config?.type === 'checkin' && (
            <DuePreview schedule={config.schedule} now={now} zone={values.zone} />
          )}
          <p className="text-muted mt-3 text-[14px]">
            Save it to get its check-in address and a line ready to paste into your crontab.
          </p>
        </section>
      ) : (
        <TrialLook
          body={() => watchBodyOf(values)}
          onRefused={refuse}
          onLooked={({ address }) => {
            if (address) setValues((old) => ({ ...old, settings: { ...old.settings, address } }));
          }}
        />
      )}
    </form>
  );
}
