'use client';

import type { Hours, OpenSpan, Outside } from '@/core/telling/hours';
import { Button } from '@/ui/basic/button';
import { DaysOffField } from '@/ui/form/days-off-field';
import { optionsOf, SelectField, TextField } from '@/ui/form/fields';
import { Ticks } from '@/ui/form/ticks';
import { WEEKDAYS } from '@/ui/form/weekdays';

const OUTSIDE: readonly { value: Outside; text: string }[] = [
  { value: 'hold', text: 'is held, and told together when the hours open' },
  { value: 'urgent', text: 'is held, but for what is for any hour' },
  { value: 'drop', text: 'is not told' },
];

interface RouteHoursProps {
  hours: Hours | null;
  zone: string;
  errors: Readonly<Record<string, string>>;
  onChange: (hours: Hours | null) => void;
}

/** When a route speaks: day and night, or in stretches of the week. */
export function RouteHours({ hours, zone, errors, onChange }: RouteHoursProps) {
  const office = { zone, spans: [{ days: [1, 2, 3, 4, 5], from: '07:00', until: '18:00' }], daysOff: [] };
  const setSpan = (i: number, change: Partial<OpenSpan>) =>
    onChange({ ...hours!, spans: hours!.spans.map((span, j) => (j === i ? { ...span, ...change } : span)) });
  return (
    <div className="flex flex-col gap-4">
      <SelectField
        label="When it speaks"
        value={hours ? 'hours' : 'always'}
        options={optionsOf({ always: 'day and night', hours: 'at some hours' })}
        onChoose={(value) => onChange(value === 'always' ? null : { ...office, outside: 'hold' })}
      />
      {hours?.spans.map((span, i) => (
        <div key={i} className="border-rule flex flex-col gap-3 border-t pt-3">
          <Ticks
            label="On"
            options={WEEKDAYS}
            chosen={span.days.map(String)}
            onChange={(days) => setSpan(i, { days: days.map(Number).sort((a, b) => a - b) })}
          />
          <div className="grid max-w-sm grid-cols-2 gap-3">
            <TextField
              label="From"
              placeholder="07:00"
              value={span.from}
              error={errors[`hours.spans[${i}].from`]}
              onChange={(event) => setSpan(i, { from: event.target.value })}
            />
            <TextField
              label="To"
              placeholder="18:00"
              value={span.until}
              error={errors[`hours.spans[${i}].until`]}
              onChange={(event) => setSpan(i, { until: event.target.value })}
            />
          </div>
          {errors[`hours.spans[${i}].days`] && (
            <p className="text-down-text text-[0.875rem] font-semibold">{errors[`hours.spans[${i}].days`]}</p>
          )}
          {hours.spans.length > 1 && (
            <div>
              <Button onClick={() => onChange({ ...hours, spans: hours.spans.filter((_, j) => j !== i) })}>
                Take these hours out
              </Button>
            </div>
          )}
        </div>
      ))}
      {hours && (
        <>
          <div>
            <Button
              onClick={() =>
                onChange({
                  ...hours,
                  spans: [...hours.spans, { days: [6, 7], from: '10:00', until: '12:00' }],
                })
              }
            >
              Add other hours
            </Button>
          </div>
          <TextField
            label="Zone"
            help="Whose wall clock these are."
            value={hours.zone}
            error={errors['hours.zone']}
            onChange={(event) => onChange({ ...hours, zone: event.target.value })}
          />
          <DaysOffField
            label="On these days it does not speak"
            value={hours.daysOff.join('\n')}
            error={Object.entries(errors).find(([name]) => name.startsWith('hours.daysOff'))?.[1]}
            onChange={(days) => onChange({ ...hours, daysOff: days.split('\n') })}
          />
          <SelectField
            label="What happens outside them"
            value={hours.outside}
            options={OUTSIDE}
            onChoose={(outside) => onChange({ ...hours, outside: outside as Outside })}
          />
        </>
      )}
    </div>
  );
}
