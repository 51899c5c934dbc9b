'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { DRILL_HAPPENINGS, type DrillHappening } from '@/core/telling/ahead/drill';
import { formatDuration } from '@/core/time/duration';
import { SECOND_MS } from '@/core/time/units';
import { countOf } from '@/core/text/words';
import { Button } from '@/ui/basic/button';
import { optionsOf, SelectField, TextField } from '@/ui/form/fields';
import { FormEnd } from '@/ui/form/form-end';
import { useApiForm } from '@/ui/form/use-api-form';
import { WatchPicker, type PickableWatch } from '@/ui/form/watch-picker';
import { OwnForm } from '@/ui/form/own-form';

interface Plan {
  says: { afterSeconds: number; channel: string; title: string; why: string }[];
  notes: { afterSeconds: number; channel: string | null; watch: string; why: string }[];
}

function after(seconds: number): string {
  return seconds === 0 ? 'at once' : `+${formatDuration(seconds * SECOND_MS)}`;
}

/** Who would hear what, and when, if nobody took it. */
function PlanTable({ says, notes }: Plan) {
  return (
    <div className="overflow-x-auto" tabIndex={0} role="group" aria-label="Who would hear">
      {says.length === 0 ? (
        <p className="text-down-text font-semibold">Nobody would be told.</p>
      ) : (
        <table className="w-full text-left text-[0.875rem]">
          <thead className="text-muted">
            <tr>
              <th className="py-1.5 pr-5 font-normal">when</th>
              <th className="pr-5 font-normal">who</th>
              <th className="pr-5 font-normal">hears</th>
              <th className="font-normal">because</th>
            </tr>
          </thead>
          <tbody>
            {says.map(({ afterSeconds, channel, title, why }, i) => (
              <tr key={i} className="border-rule border-t align-top">
                <td className="figures py-1.5 pr-5 whitespace-nowrap">{after(afterSeconds)}</td>
                <td className="py-1.5 pr-5 font-semibold">{channel}</td>
                <td className="py-1.5 pr-5">{title}</td>
                <td className="text-muted py-1.5">{why}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {notes.length > 0 && (
        <details className="mt-3 text-[0.875rem]">
          <summary className="cursor-pointer font-semibold">And what is not told</summary>
          <ul className="mt-1">
            {notes.map(({ afterSeconds, channel, watch, why }, i) => (
              <li key={i} className="border-rule border-t py-1.5">
                <span className="figures">{after(afterSeconds)}</span> {channel ?? watch}:{' '}
                <span className="text-muted">{why}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}

/** Chooses what is rehearsed, shows who would hear, and begins it. */
export function DrillForm({ watches }: { watches: readonly PickableWatch[] }) {
  const router = useRouter();
  const form = useApiForm({ watchIds: [] as number[], happening: 'down' as DrillHappening, minutes: '5' });
  const [plan, setPlan] = useState<{ of: string; plan: Plan } | null>(null);
  const { values, errors } = form;
  const of = JSON.stringify(values);
  const shown = plan?.of === of ? plan.plan : null;
  const body = () => ({ ...values, minutes: values.minutes.trim() === '' ? null : values.minutes });
  const show = async () => {
    const sent = await form.send<Plan>('POST', '/drill-plans', body());
    setPlan(sent && { of, plan: sent.value });
  };
  const begin = async () => {
    const sent = await form.send<{ id: number }>('POST', '/drills', body());
    if (sent) router.push(`/messages/drills/${sent.value.id}`);
  };
  return (
    <OwnForm sheet onSend={() => show()} aria-label="A drill">
      <WatchPicker
        label="Say of these"
        help="They stay as they are; only messages say otherwise."
        error={errors.watchIds}
        watches={watches}
        chosen={values.watchIds}
        onChange={(watchIds) => form.set({ watchIds })}
      />
      <div className="grid items-start gap-4 sm:grid-cols-2">
        <SelectField
          label="That"
          value={values.happening}
          options={optionsOf(DRILL_HAPPENINGS)}
          onChoose={(happening) => form.set({ happening: happening as DrillHappening })}
        />
        <TextField
          label="For so many minutes"
          help="Then it is said to be over. You can end it before."
          inputMode="numeric"
          {...form.field('minutes')}
        />
      </div>
      <div className="flex flex-wrap gap-2">
        <Button type="submit" look={shown ? 'plain' : 'strong'} disabled={form.busy}>
          {form.busy && !shown ? 'Working it out…' : 'Show who would hear'}
        </Button>
        {shown && (
          <Button look="strong" disabled={form.busy || shown.says.length === 0} onClick={() => void begin()}>
            {form.busy ? 'Sending…' : `Send ${countOf(shown.says.length, 'message')} for practice`}
          </Button>
        )}
      </div>
      {shown && <PlanTable {...shown} />}
      <FormEnd form={form} />
    </OwnForm>
  );
}
