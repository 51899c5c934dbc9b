import { array, boolean, number, object, string } from 'yup';
import { CHECKIN_NAME } from '@/core/reports/checkin-name';
import { USUAL_WRAPPER, wrapperProblem } from '@/core/imports/crontab';
import { isTimeZone } from '@/core/time/zone-time';
import { strictObject, wholeNumber } from './common';

export const daysOffSchema = strictObject({
  text: string()
    .required('Expected an iCalendar file, got nothing.')
    .max(2_000_000, 'Expected at most 2,000,000 characters.')
    .meta({ description: 'An iCalendar file (RFC 5545).' }),
});

const SECONDS_90_DAYS = 90 * 86_400;

export const newKeySchema = strictObject({
  overlapSeconds: wholeNumber('overlapSeconds', 'seconds', 0, SECONDS_90_DAYS)
    .default(7 * 86_400)
    .meta({ description: 'How many seconds the old address counts yet.' }),
});

export const checkinNameSchema = strictObject({
  name: string()
    .trim()
    .nullable()
    .default(null)
    .matches(CHECKIN_NAME, {
      message: 'Expected small letters, digits, dots and hyphens, such as nightly-manifest.',
      excludeEmptyString: true,
    })
    .transform((value: unknown) => (value === '' ? null : value))
    .meta({ description: 'The readable end of the address; null takes it away.' }),
});

export const sectionEndpointSchema = strictObject({
  open: boolean().required('Expected open to be true or false, got nothing.'),
  renew: boolean().default(false).meta({ description: 'True gives the section another secret.' }),
  mostNew: wholeNumber('mostNew', '', 0, 1000)
    .default(0)
    .meta({ description: 'So many unknown names may make check-ins of their own; 0 for none.' }),
});

const jobsText = {
  text: string()
    .required('Expected a crontab, or timers of systemd, got nothing.')
    .max(500_000, 'Expected at most 500,000 characters.')
    .meta({
      description:
        'A crontab; or systemctl list-timers --output=json; or unit files as systemctl cat prints them.',
    }),
  zone: string()
    .required('Expected a time zone such as Europe/Lisbon, got nothing.')
    .test(
      'zone',
      ({ value }) => `Expected a time zone such as Europe/Lisbon, got "${String(value)}".`,
      (value) => isTimeZone(value ?? ''),
    )
    .meta({ description: 'The zone of the machine the jobs run on.' }),
  form: string()
    .oneOf(['auto', 'user', 'system'])
    .default('auto')
    .meta({ description: 'Whether lines name a user behind the times; "auto" finds out, or asks.' }),
  cron: string().oneOf(['auto', 'usual', 'debian']).default('auto').meta({
    description:
      'Whose cron it is: Debian’s does not heed CRON_TZ, and takes a step in the days beside a weekday for both; "auto" asks where it matters.',
  }),
  wrapper: string()
    .trim()
    .default(USUAL_WRAPPER)
    .test('path', function check(value) {
      const wrong = wrapperProblem(value ?? '');
      return wrong === null || this.createError({ message: wrong });
    })
    .meta({ description: 'Where the wrapper lies on that machine, as a whole path.' }),
  section: string()
    .trim()
    .nullable()
    .default(null)
    .max(80, 'Expected a section name of at most 80 characters.'),
};

export const jobDraftSchema = strictObject(jobsText);

export const jobImportSchema = strictObject({
  ...jobsText,
  jobs: array(
    object({
      line: number().integer().required('Expected the line of each job.'),
      name: string().trim().required('Expected a name for the job, got nothing.').max(120),
      leewaySeconds: wholeNumber('leewaySeconds', 'seconds', 0, 30 * 86_400).required(
        'Expected a leeway for each job.',
      ),
    }),
  )
    .required('Expected the jobs to watch.')
    .min(1, 'Expected one job at least.')
    .max(1000, 'Expected at most 1000 jobs.')
    .meta({ description: 'The jobs to watch, by their line, with a name and a leeway in seconds.' }),
});
