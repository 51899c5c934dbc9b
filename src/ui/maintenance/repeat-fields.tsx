'use client';

import { RULE_DAYS, repeatWords, type Repeats, type RuleChoice } from '@/core/maintenance/rule-choice';
import { SelectField, TextField } from '@/ui/form/fields';
import { DayField } from '@/ui/form/moment-field';
import { Ticks } from '@/ui/form/ticks';
import { WEEKDAYS } from '@/ui/form/weekdays';

const UNITS: Partial<Record<Repeats, string>> = {
  daily: 'days',
  weekly: 'weeks',
  'monthly-day': 'months',
  'monthly-weekday': 'months',
  yearly: 'years',
};

const DAYS = WEEKDAYS.map(({ text }, i) => ({ value: RULE_DAYS[i]!, text }));

const ENDS = [
  { value: 'never', text: 'Until it is ended by hand' },
  { value: 'on', text: 'Until a day' },
  { value: 'after', text: 'So many times' },
];

interface RepeatFieldsProps {
  choice: RuleChoice;
  /** When it begins first: "2026-12-06T02:00". */
  first: string;
  error?: string;
  /** What comes again stays so: it is changed as a whole. */
  again: boolean;
  onChange: (change: Partial<RuleChoice>) => void;
}

/** How maintenance repeats: chosen in words, or by a rule of one's own. */
export function RepeatFields({ choice, first, error, again, onChange }: RepeatFieldsProps) {
  const unit = UNITS[choice.repeats];
  const own = choice.repeats === 'own';
  return (
    <div className="flex flex-col gap-4">
      <SelectField
        label="Repeats"
        value={choice.repeats}
        options={repeatWords(first).filter(({ value }) => !again || value !== 'once')}
        error={own ? undefined : error}
        onChoose={(repeats) => onChange({ repeats: repeats as Repeats })}
      />
      {choice.repeats === 'weekly' && (
        <Ticks label="On" options={DAYS} chosen={choice.days} onChange={(days) => onChange({ days })} />
      )}
      {own && (
        <TextField
          label="Rule"
          help="Daily or rarer, such as FREQ=MONTHLY;BYDAY=1SU."
          className="border-edge bg-card text-ink w-full rounded-lg border px-3 py-2 font-mono"
          value={choice.rule}
          error={error}
          onChange={(event) => onChange({ rule: event.target.value })}
        />
      )}
      {unit && (
        <div className="grid gap-4 sm:grid-cols-2">
          <TextField
            label={`Every so many ${unit}`}
            type="number"
            min={1}
            value={String(choice.every)}
            onChange={(event) => onChange({ every: Number(event.target.value) })}
          />
          <SelectField
            label="Goes on"
            value={choice.ends}
            options={ENDS}
            onChoose={(ends) => onChange({ ends: ends as RuleChoice['ends'] })}
          />
          {choice.ends === 'on' && (
            <DayField
              label="Last day"
              value={choice.lastDay}
              onChange={(event) => onChange({ lastDay: event.target.value })}
            />
          )}
          {choice.ends === 'after' && (
            <TextField
              label="Times in all"
              type="number"
              min={1}
              value={String(choice.times)}
              onChange={(event) => onChange({ times: Number(event.target.value) })}
            />
          )}
        </div>
      )}
    </div>
  );
}
