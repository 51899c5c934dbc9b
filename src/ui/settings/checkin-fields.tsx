'use client';

import { MAIL_NAMES } from '@/core/reports/mail-words';
import { MailFields } from './mail-fields';
import { DurationField } from '@/ui/form/duration-field';
import { DaysOffField } from '@/ui/form/days-off-field';
import { AreaField, INPUT_CLASS, optionsOf, SelectField } from '@/ui/form/fields';
import { ZoneField } from './cron-fields';
import { SharedField } from './shared-field';
import type { SetValue, WatchFormValues } from './watch-form-values';
import { SharedDuration, SharedText, type SharedParts } from './shared-inputs';

const TYPES = [
  { id: 'cron', text: 'At set times (cron)' },
  { id: 'calendar', text: 'At set times (systemd)' },
  { id: 'period', text: 'Every so often' },
] as const;

/** An example for each way to write times, so that the form begins with one that holds. */
const EXAMPLES: Partial<Record<WatchFormValues['scheduleType'], string>> = {
  cron: '30 2 * * *',
  calendar: '*-*-* 02:30',
};

/** Goes over to another way to write times; what was typed stays, an example is changed for one that fits. */
function chooseType(set: SetValue, expression: string, type: WatchFormValues['scheduleType']): void {
  set('scheduleType', type);
  const example = EXAMPLES[type];
  const untouched = expression.trim() === '' || Object.values(EXAMPLES).includes(expression);
  if (example !== undefined && untouched) set('expression', example);
}

/** When a job is expected, how late it may be, how long it may run. */
export function CheckinFields({ values, form, set, errors }: SharedParts) {
  return (
    <>
      <fieldset>
        <legend className="mb-1 font-semibold">When does it run?</legend>
        <div className="flex flex-wrap gap-5">
          {TYPES.map((type) => (
            <label key={type.id} className="flex items-center gap-2">
              <input
                type="radio"
                name="schedule"
                checked={values.scheduleType === type.id}
                onChange={() => chooseType(set, values.expression, type.id)}
              />
              {type.text}
            </label>
          ))}
        </div>
      </fieldset>
      {values.scheduleType !== 'period' ? (
        <TimesFields {...{ values, set, errors }} />
      ) : (
        <DurationField
          label="Every"
          help="No more than this may pass between two check-ins."
          error={errors['schedule.every']}
          seconds={values.period}
          onChange={(seconds) => set('period', seconds)}
        />
      )}
      <CheckinTimingGrid {...{ values, form, set, errors }} />
      <details className="sheet px-4 py-3" open={MAIL_NAMES.some((name) => name in errors) || undefined}>
        <summary className="cursor-pointer font-semibold">
          Reports by mail{' '}
          <span className="text-muted font-normal">
            {form.owns('mailFrom') && values.mailFrom.trim() !== '' ? `from ${values.mailFrom}` : ''}
          </span>
        </summary>
        <div className="mt-3">
          <MailFields {...{ values, form, set, errors }} />
        </div>
      </details>
    </>
  );
}

/** How late a check-in may be, and how long a run may take. */
export function CheckinTimingGrid(parts: SharedParts) {
  const { values, form, set, errors } = parts;
  return (
    <div className="grid items-start gap-5 sm:grid-cols-2">
      <SharedDuration
        name="leeway"
        label="Leeway"
        help="How late a check-in may be before it counts as missed."
        {...parts}
      />
      <SharedText
        name="longestRun"
        label="Longest run"
        unit="in minutes"
        help="Needs the job to report begun and done. Leave empty for no limit."
        numeric
        {...parts}
      />
      <SharedText
        name="shortestGap"
        label="Shortest time between runs"
        unit="in minutes"
        help="Sooner than this, it wants a hand: it may be scheduled twice. Leave empty for no limit."
        numeric
        {...parts}
      />
      <SharedField name="methods" label="Requests that count" form={form}>
        <SelectField
          label="Requests that count"
          help="Chat rooms fetch the links they show; only POST keeps such a visit from counting."
          error={errors.methods}
          value={values.methods}
          options={optionsOf({ any: 'any', post: 'only POST' })}
          onChoose={(one) => set('methods', one)}
        />
      </SharedField>
    </div>
  );
}

/** Times, several one a line, the zone they are meant in, and days off. */
function TimesFields({ values, set, errors }: Pick<SharedParts, 'values' | 'set' | 'errors'>) {
  const cron = values.scheduleType === 'cron';
  return (
    <div className="grid items-start gap-5 sm:grid-cols-2">
      <AreaField
        label={cron ? 'Cron expression' : 'Calendar event'}
        help={
          cron
            ? 'Minute, hour, day, month, weekday; as in the crontab. Several stand one a line.'
            : 'As in OnCalendar= of a timer: Mon..Fri 06:30, *-*-1 04:00. Several stand one a line.'
        }
        className={`${INPUT_CLASS} figures`}
        rows={2}
        spellCheck={false}
        error={errors['schedule.expression']}
        value={values.expression}
        onChange={(event) => set('expression', event.target.value)}
      />
      <ZoneField
        help="The zone of the machine the job runs on."
        error={errors['schedule.zone']}
        value={values.zone}
        onChange={(zone) => set('zone', zone)}
      />
      {cron && (
        <SelectField
          label="Whose cron"
          help="They differ where a day of the month and a weekday are both named."
          error={errors['schedule.dialect']}
          value={values.dialect}
          options={optionsOf({
            usual: 'the usual one',
            debian: 'Debian’s: a step in one of the days means both',
          })}
          onChoose={(one) => set('dialect', one as WatchFormValues['dialect'])}
        />
      )}
      <DaysOffField
        label="On these days nothing is due"
        value={values.daysOff}
        error={errors['schedule.daysOff']}
        onChange={(days) => set('daysOff', days)}
      />
    </div>
  );
}
