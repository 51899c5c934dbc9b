import { newCheckinKey } from '@/accounts/secrets';
import { TakenNames } from '@/core/settings/unique-name';
import type { JobDraft } from '@/core/imports/job-draft';
import type { Db } from '@/store/db/connection';
import { fetchNamedSo, saveCheckinName, saveNewKey } from '@/store/watches/checkin-endpoints';
import { fetchNamesFrom } from '@/store/watches/tied';
import { fetchJobs, saveNewWatch, type WatchWithStatus } from '@/store/watches/watches';
import { Refusal, refused } from '@/cases/frame/refusal';
import { asks, changes } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import {
  checkinNameSchema,
  daysOffSchema,
  jobDraftSchema,
  jobImportSchema,
  newKeySchema,
} from '@/cases/schemas/jobs';
import { foundWatch, tellEngine } from '@/cases/watches/around';
import { draftJobs, handingOver, rewritten, textProblem, type ImportWish } from './job-drafts';

async function foundJob(db: Db, id: number): Promise<WatchWithStatus> {
  const watch = await foundWatch(db, id);
  if (watch.config.type !== 'checkin') {
    throw new Refusal('watch.no-checkin', 'A probe looks by itself; it has no check-in address.');
  }
  return watch;
}

function refuseText({ text }: ImportWish): void {
  const problem = textProblem(text);
  if (problem) throw refused([{ field: 'text', message: problem }]);
}

export const readDaysOff = asks(
  'readDaysOff',
  'operate',
  async ({ world, now }, { body }: { body: unknown }): Promise<{ days: string[] }> => {
    const { text } = await validateBody<{ text: string }>(daysOffSchema, body);
    const answer = await world.calendars.daysOff(text, new Date(now).toISOString().slice(0, 10));
    if ('problem' in answer) throw refused([{ field: 'text', message: answer.problem }]);
    return answer;
  },
);

export const draftJobImport = asks(
  'draftJobImport',
  'operate',
  async ({ db, now }, { body }: { body: unknown }): Promise<JobDraft> => {
    const wish = await validateBody<ImportWish>(jobDraftSchema, body);
    refuseText(wish);
    return draftJobs(wish, await fetchJobs(db), now);
  },
);

interface WishedJob {
  line: number;
  name: string;
  leewaySeconds: number;
}

const ASKS = {
  form: 'Expected form to say whether a user stands behind the times: these lines may be read either way.',
  cron: 'Expected cron to say whose it is: what stands here means one thing to Debian’s, and another to others.',
};

export interface JobImport {
  made: { id: number; line: number; name: string }[];
  /** The same text with the chosen lines wrapped. */
  text: string;
  fetch: string;
  trial: string | null;
}

/** Makes check-ins for jobs of a crontab or for timers: all that were chosen, or none. */
export const importJobs = changes(
  'importJobs',
  'operate',
  async ({ body, base }: { body: unknown; base: string }) => {
    const wish = await validateBody<ImportWish & { jobs: WishedJob[] }>(jobImportSchema, body);
    refuseText(wish);
    return { wish, base };
  },
  async ({ trx, now, about, afterwards, world }, { wish, base }): Promise<JobImport> => {
    const { rows, asks: asked } = draftJobs(wish, await fetchJobs(trx), now);
    if (asked.length > 0) throw refused(asked.map((field) => ({ field, message: ASKS[field] })));
    const names = new TakenNames(await fetchNamesFrom(trx, ''));
    const addresses = new Map<number, string>();
    const made: JobImport['made'] = [];
    for (const [i, { line, name, leewaySeconds: leeway }] of wish.jobs.entries()) {
      const row = rows.find((one) => one.line === line);
      if (!row?.schedule) {
        const got = row?.problem ?? `there is no job at line ${line}`;
        throw refused([{ field: `jobs[${i}].line`, message: `Expected a job that can be watched; ${got}` }]);
      }
      const own = names.give(name);
      const checkinKey = newCheckinKey();
      const id = await saveNewWatch(trx, {
        kind: 'checkin',
        name: own,
        section: wish.section,
        config: { type: 'checkin', schedule: row.schedule, leeway },
        checkinKey,
        createdAt: now,
      });
      made.push({ id, line, name: own });
      addresses.set(line, `${base}/in/${checkinKey}`);
      about({ kind: 'watch', id, name: own });
    }
    afterwards(() =>
      tellEngine(
        world,
        made.map((one) => one.id),
      ),
    );
    return { made, text: rewritten(wish, addresses), ...handingOver(wish, addresses, base) };
  },
);

interface OfJob {
  id: number;
  body: unknown;
}

/** Gives a check-in a new address; the old one counts for some time yet. */
export const renewCheckinAddress = changes(
  'renewCheckinAddress',
  'operate',
  async ({ id, body }: OfJob) => ({
    id,
    ...(await validateBody<{ overlapSeconds: number }>(newKeySchema, body)),
  }),
  async ({ trx, now, about, afterwards, world }, { id, overlapSeconds }): Promise<WatchWithStatus> => {
    const watch = await foundJob(trx, id);
    await saveNewKey(trx, id, newCheckinKey(), now + overlapSeconds * 1000);
    about({ kind: 'watch', id, name: watch.name });
    afterwards(world.forgetKeys);
    return foundWatch(trx, id);
  },
);

/** Gives a check-in a readable address under the secret of its section, or takes it away. */
export const nameCheckin = changes(
  'nameCheckin',
  'operate',
  async ({ id, body }: OfJob) => ({
    id,
    ...(await validateBody<{ name: string | null }>(checkinNameSchema, body)),
  }),
  async ({ trx, about, afterwards, world }, { id, name }): Promise<WatchWithStatus> => {
    const watch = await foundJob(trx, id);
    if (watch.section === null) {
      throw refused([{ field: 'name', message: 'Expected a watch in a section; this one is in none.' }]);
    }
    const twin = name === null ? null : await fetchNamedSo(trx, watch.section, name);
    if (twin && twin.id !== id) {
      const message = `Expected a name of its own; “${twin.name}” has this one.`;
      throw refused([{ field: 'name', message }]);
    }
    await saveCheckinName(trx, id, name);
    about({ kind: 'watch', id, name: watch.name });
    afterwards(world.forgetKeys);
    return foundWatch(trx, id);
  },
);
