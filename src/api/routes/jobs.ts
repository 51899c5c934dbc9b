import { newCheckinKey, newSecret } from '@/accounts/secrets';
import { uniqueName } from '@/core/settings/unique-name';
import {
  fetchSectionEndpoints,
  saveCheckinName,
  saveNewKey,
  saveSectionEndpoint,
} from '@/store/watches/checkin-endpoints';
import { fetchSections } from '@/store/watches/sections';
import { fetchWatch, fetchWatches, saveNewWatch, type WatchWithStatus } from '@/store/watches/watches';
import { draftJobs, handingOver, rewritten, textProblem, type ImportWish } from '@/api/job-import';
import { notFound, Problem, refused } from '@/api/problem';
import { idOf, type Call, type Route } from '@/api/route';
import {
  checkinNameSchema,
  daysOffSchema,
  jobDraftSchema,
  jobImportSchema,
  newKeySchema,
  sectionEndpointSchema,
} from '@/api/schemas/jobs';
import { watchShape } from '@/api/shapes';
import { validateBody } from '@/api/validate';
import { tellEngine } from './watch-calls';

async function foundJob(call: Call): Promise<WatchWithStatus> {
  const watch = await fetchWatch(call.context.db, idOf(call));
  if (!watch) throw notFound(`watch ${call.params.id}`);
  if (watch.config.type !== 'checkin') {
    throw new Problem(409, 'No check-in', 'A probe looks by itself; it has no check-in address.');
  }
  return watch;
}

async function shown(call: Call) {
  return watchShape((await fetchWatch(call.context.db, idOf(call)))!, call);
}

function refuseText({ text }: ImportWish): void {
  const problem = textProblem(text);
  if (problem) throw refused([{ field: 'text', message: problem }]);
}

async function importJobs(call: Call) {
  const { db } = call.context;
  const wish = await validateBody<ImportWish & { jobs: { line: number; name: string; leeway: number }[] }>(
    jobImportSchema,
    call.body,
  );
  const watches = await fetchWatches(db);
  refuseText(wish);
  const { rows, asks } = draftJobs(wish, watches, call.now);
  if (asks.length > 0) {
    const messages = {
      form: 'Expected form to say whether a user stands behind the times: these lines may be read either way.',
      cron: 'Expected cron to say whose it is: what stands here means one thing to Debian’s, and another to others.',
    };
    throw refused(asks.map((field) => ({ field, message: messages[field] })));
  }
  const names = watches.map((watch) => watch.name);
  const addresses = new Map<number, string>();
  const made: { id: number; line: number; name: string }[] = [];
  for (const [i, { line }] of wish.jobs.entries()) {
    const row = rows.find((one) => one.line === line);
    if (!row?.schedule) {
      const got = row?.problem ?? `there is no job at line ${line}`;
      throw refused([{ field: `jobs[${i}].line`, message: `Expected a job that can be watched; ${got}` }]);
    }
  }
  for (const { line, name, leeway } of wish.jobs) {
    const { schedule } = rows.find((one) => one.line === line)!;
    const own = uniqueName(name, names);
    names.push(own);
    const checkinKey = newCheckinKey();
    const config = { type: 'checkin' as const, schedule: schedule!, leeway };
    const id = await saveNewWatch(db, {
      kind: 'checkin',
      name: own,
      section: wish.section,
      config,
      checkinKey,
      createdAt: call.now,
    });
    made.push({ id, line, name: own });
    addresses.set(line, `${call.base}/in/${checkinKey}`);
  }
  await tellEngine(
    call,
    made.map((one) => one.id),
  );
  return { made, text: rewritten(wish, addresses), ...handingOver(wish, addresses, call.base) };
}

export const jobRoutes: Route[] = [
  {
    method: 'POST',
    path: '/days-off',
    tag: 'Check-ins',
    summary: 'Read days off from an iCalendar file; nothing is kept',
    body: daysOffSchema,
    status: 200,
    answer: 'The days of its all-day events from today on, three years ahead.',
    handle: async (call) => {
      const { text } = await validateBody<{ text: string }>(daysOffSchema, call.body);
      const today = new Date(call.now).toISOString().slice(0, 10);
      const answer = await call.context.calendars.daysOff(text, today);
      if ('problem' in answer) throw refused([{ field: 'text', message: answer.problem }]);
      return answer;
    },
  },
  {
    method: 'POST',
    path: '/job-drafts',
    tag: 'Check-ins',
    summary: 'Read a crontab or timers, and judge each job against what is watched; nothing is made',
    body: jobDraftSchema,
    status: 200,
    answer:
      'Each job with its times in words, a name, a leeway and how it stands to what is watched; and check-ins of the section without a job.',
    handle: async (call) => {
      const wish = await validateBody<ImportWish>(jobDraftSchema, call.body);
      refuseText(wish);
      return draftJobs(wish, await fetchWatches(call.context.db), call.now);
    },
  },
  {
    method: 'POST',
    path: '/job-imports',
    tag: 'Check-ins',
    summary: 'Make check-ins for jobs of a crontab or for timers',
    body: jobImportSchema,
    status: 201,
    answer:
      'The check-ins, and the crontab with their lines wrapped, or the drop-ins for the timers’ services; how to fetch the wrapper; a line that tries one as cron would.',
    handle: importJobs,
  },
  {
    method: 'POST',
    path: '/watches/{id}/key',
    tag: 'Check-ins',
    summary: 'Give a check-in a new address; the old one counts for some time yet',
    body: newKeySchema,
    status: 200,
    answer: 'The watch with its new address.',
    handle: async (call) => {
      const watch = await foundJob(call);
      const { overlap } = await validateBody<{ overlap: number }>(newKeySchema, call.body);
      await saveNewKey(call.context.db, watch.id, newCheckinKey(), call.now + overlap * 1000);
      call.context.forgetKeys();
      return shown(call);
    },
  },
  {
    method: 'POST',
    path: '/watches/{id}/checkin-name',
    tag: 'Check-ins',
    summary: 'Give a check-in a readable address under the secret of its section, or take it away',
    body: checkinNameSchema,
    status: 200,
    answer: 'The watch.',
    handle: async (call) => {
      const watch = await foundJob(call);
      const { name } = await validateBody<{ name: string | null }>(checkinNameSchema, call.body);
      if (watch.section === null) {
        throw refused([{ field: 'name', message: 'Expected a watch in a section; this one is in none.' }]);
      }
      const twin = (await fetchWatches(call.context.db)).find(
        (other) => other.id !== watch.id && other.section === watch.section && other.checkinName === name,
      );
      if (name !== null && twin) {
        throw refused([
          { field: 'name', message: `Expected a name of its own; “${twin.name}” has this one.` },
        ]);
      }
      await saveCheckinName(call.context.db, watch.id, name);
      call.context.forgetKeys();
      return shown(call);
    },
  },
  {
    method: 'POST',
    path: '/sections/{id}/checkin-address',
    tag: 'Check-ins',
    summary: 'Open or close readable check-in addresses for a section, or give them another secret',
    body: sectionEndpointSchema,
    status: 200,
    answer: 'Where the jobs of the section report, without the name at its end; null when closed.',
    handle: async (call) => {
      const { db } = call.context;
      const section = (await fetchSections(db)).find((one) => one.id === idOf(call));
      if (!section) throw notFound(`section ${call.params.id}`);
      const wish = await validateBody<{ open: boolean; renew: boolean; mostNew: number }>(
        sectionEndpointSchema,
        call.body,
      );
      const before = (await fetchSectionEndpoints(db)).get(section.name)!;
      const secret = wish.open ? ((wish.renew ? null : before.secret) ?? newSecret()) : null;
      await saveSectionEndpoint(db, section.id, { secret, mostNew: secret === null ? 0 : wish.mostNew });
      call.context.forgetKeys();
      return { address: secret === null ? null : `${call.base}/in/${secret}/`, mostNew: wish.mostNew };
    },
  },
];
