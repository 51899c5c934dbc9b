import { wireOf } from '@/core/settings/wire-names';
import * as cases from '@/cases/jobs/jobs';
import { listJobLines } from '@/cases/jobs/lines';
import * as schemas from '@/cases/schemas/jobs';
import { daysOff, jobDraft, jobImport } from '@/api/answers/others';
import { jobLine } from '@/api/answers/lines';
import type { JobLine } from '@/views/jobs/jobs';
import { route, type Call, type Route } from '@/api/route';
import { actRoute } from './resource';
import { filterOf, filterQuery, watchAct } from './watches';

const TAG = 'Check-ins';

const body = (call: Call) => ({ body: call.body });
const ofJob = ({ ids, body: sent }: Call) => ({ id: ids.id!, body: sent });

export const jobRoutes: Route[] = [
  route({
    method: 'GET',
    path: '/job-lines',
    tag: TAG,
    summary: 'Check-ins as the desk shows them',
    description: 'What runs comes first, then what is due next.',
    does: listJobLines,
    query: filterQuery,
    list: { by: 'place' },
    status: 200,
    answer: 'Check-ins, with what is due and what was last heard.',
    shape: { each: jobLine },
    input: (call) => ({ filter: filterOf(call), page: call.page }),
    tell: (_, lines: JobLine[]) =>
      lines.map(({ due, running, usualMs, ...rest }) => ({
        ...rest,
        dueAt: due,
        runningSinceAt: running,
        lastRunMs: usualMs,
      })),
  }),
  actRoute(TAG, '/days-off', {
    summary: 'Read days off from an iCalendar file',
    description: 'Nothing is kept.',
    does: cases.readDaysOff,
    body: schemas.daysOffSchema,
    answer: 'The days of its all-day events from today on, three years ahead.',
    shape: daysOff,
    example: { text: 'BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//Tern Island Ferries//EN\r\nEND:VCALENDAR' },
    input: body,
  }),
  actRoute(TAG, '/job-drafts', {
    summary: 'Read a crontab or timers, and judge each job against what is watched',
    description: 'Nothing is made.',
    does: cases.draftJobImport,
    body: schemas.jobDraftSchema,
    answer:
      'Each job with its times in words, a name, a leeway and how it stands to what is watched; and check-ins of the section without a job.',
    shape: jobDraft,
    example: { text: '30 2 * * * backup-manifest', zone: 'Europe/Lisbon', form: 'user' },
    input: body,
    tell: (_, { rows, ...draft }) => ({
      ...draft,
      rows: rows.map(({ leeway, schedule, ...row }) => ({
        ...row,
        schedule: schedule && wireOf(schedule),
        leewaySeconds: leeway,
      })),
    }),
  }),
  route({
    method: 'POST',
    path: '/job-imports',
    tag: TAG,
    summary: 'Make check-ins for jobs of a crontab or for timers',
    description: 'All that were chosen, or none.',
    does: cases.importJobs,
    body: schemas.jobImportSchema,
    status: 201,
    answer:
      'The check-ins, and the crontab with their lines wrapped, or the drop-ins for the timers’ services; how to fetch the wrapper; a line that tries one as cron would.',
    shape: jobImport,
    refusals: ['input.invalid'],
    location: ({ made }) => (made.length === 1 ? `/watches/${made[0]!.id}` : '/watches?kind=checkin'),
    example: {
      text: '30 2 * * * backup-manifest',
      zone: 'Europe/Lisbon',
      form: 'user',
      jobs: [{ line: 1, name: 'backup manifest', leewaySeconds: 900 }],
    },
    input: ({ body: sent, base }) => ({ body: sent, base }),
  }),
  watchAct(TAG, '/watches/{id}/key', {
    does: cases.renewCheckinAddress,
    summary: 'Give a check-in a new address',
    description: 'The old one counts for some time yet.',
    body: schemas.newKeySchema,
    example: { overlapSeconds: 3600 },
    answer: 'The watch with its new address.',
    refusals: ['watch.no-checkin'],
    input: ofJob,
  }),
  watchAct(TAG, '/watches/{id}/checkin-name', {
    does: cases.nameCheckin,
    summary: 'Give a check-in a readable address under the secret of its section, or take it away',
    body: schemas.checkinNameSchema,
    example: { name: 'nightly-manifest' },
    refusals: ['watch.no-checkin'],
    input: ofJob,
  }),
];
