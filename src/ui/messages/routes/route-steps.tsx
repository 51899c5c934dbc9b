'use client';

import { Button } from '@/ui/basic/button';
import { DurationField } from '@/ui/form/duration-field';
import type { RouteConfig } from '@/core/telling/route-config';
import { Ticks } from '@/ui/form/ticks';

type Step = RouteConfig['steps'][number];

interface RouteStepsProps {
  steps: readonly Step[];
  channels: readonly { id: number; name: string }[];
  errors: Readonly<Record<string, string>>;
  onChange: (steps: Step[]) => void;
}

const NEXT_AFTER_S = 900;

/** Who hears first, and who hears next if nobody has taken it by then. */
export function RouteSteps({ steps, channels, errors, onChange }: RouteStepsProps) {
  const setStep = (i: number, change: Partial<Step>) =>
    onChange(steps.map((step, j) => (j === i ? { ...step, ...change } : step)));
  return (
    <div className="flex flex-col gap-4">
      {steps.map((step, i) => (
        <div key={i} className="border-rule flex flex-col gap-3 border-t pt-3 first:border-t-0 first:pt-0">
          <DurationField
            label={i === 0 ? 'First, after' : 'Then, after'}
            help={
              i === 0
                ? 'Counted from when it was noticed; what is over by then is told to nobody.'
                : 'If nobody has taken it by then; counted from when it was noticed.'
            }
            error={errors[`steps[${i}].after`]}
            seconds={step.after}
            onChange={(after) => setStep(i, { after })}
          />
          <Ticks
            label="Channels"
            options={channels.map(({ id, name }) => ({ value: String(id), text: name }))}
            chosen={step.channels.map(String)}
            onChange={(chosen) => setStep(i, { channels: chosen.map(Number) })}
          />
          {errors[`steps[${i}].channels`] && (
            <p className="text-down-text text-[0.875rem] font-semibold">{errors[`steps[${i}].channels`]}</p>
          )}
          {steps.length > 1 && (
            <div>
              <Button onClick={() => onChange(steps.filter((_, j) => j !== i))}>Take this step out</Button>
            </div>
          )}
        </div>
      ))}
      {errors.steps && <p className="text-down-text text-[0.875rem] font-semibold">{errors.steps}</p>}
      <div>
        <Button
          onClick={() =>
            onChange([...steps, { after: (steps.at(-1)?.after ?? 0) + NEXT_AFTER_S, channels: [] }])
          }
        >
          Add a step
        </Button>
      </div>
    </div>
  );
}
