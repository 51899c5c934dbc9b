'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { JobDraft } from '@/core/imports/job-draft';
import { Button } from '@/ui/basic/button';
import { callApi, problemText } from '@/ui/basic/call-api';
import { Link } from '@/ui/basic/link';
import { ZoneField } from '@/ui/settings/cron-fields';
import { FileButton } from '@/ui/form/file-button';
import { FormEnd } from '@/ui/form/form-end';
import { useApiForm } from '@/ui/form/use-api-form';
import { AreaField, INPUT_CLASS, OfferedField, optionsOf, SelectField, TextField } from '@/ui/form/fields';
import { Handed, type Made } from './job-handed';
import { JobRows, type RowAnswer, type Ticked } from './job-rows';

type DraftAnswer = Omit<JobDraft, 'rows'> & { rows: RowAnswer[] };

const EXAMPLE = `# nightly
30 2 * * * /opt/ferry/manifest.sh --all
*/15 * * * * /opt/ferry/weather-pull`;

/** Takes jobs over from a crontab or from timers: read, judged, ticked, made, and handed back with the wrapper. */
export function JobImport({ zone: usualZone, sections }: { zone: string; sections: readonly string[] }) {
  const router = useRouter();
  const api = useApiForm({
    text: '',
    zone: usualZone,
    form: 'auto',
    cron: 'auto',
    wrapper: '/usr/local/bin/lantern-run',
    section: '',
  });
  const { values, set, errors, busy } = api;
  const { text, zone, form, cron, section } = values;
  const [draft, setDraft] = useState<DraftAnswer | null>(null);
  const [rows, setRows] = useState<Ticked[]>([]);
  const [made, setMade] = useState<Made | null>(null);
  const wish = { ...values, section: section.trim() || null };
  const chosen = rows.filter((row) => row.ticked && row.schedule);
  const change = (line: number, next: Partial<Ticked>) =>
    setRows((old) => old.map((row) => (row.line === line ? { ...row, ...next } : row)));

  const read = async () => {
    setMade(null);
    const sent = await api.send<DraftAnswer>('POST', '/job-drafts', wish);
    setDraft(sent && sent.value);
    if (!sent) return;
    setRows(
      sent.value.rows.map((row) => ({
        ...row,
        ticked: row.stands === 'new' && row.problem === null,
        minutes: String(Math.round(row.leewaySeconds / 60)),
      })),
    );
  };
  const make = async () => {
    const jobs = chosen.map(({ line, name, minutes }) => ({
      line,
      name,
      leewaySeconds: Number(minutes) * 60,
    }));
    const result = await api.whileBusy(() => callApi<Made>('POST', '/job-imports', { ...wish, jobs }));
    // What is refused of a line has no field of its own.
    if (!result.ok) return api.refuse(problemText(result), {});
    setMade(result.value);
    router.refresh();
  };

  return (
    <div className="flex flex-col gap-5">
      <AreaField
        label="Crontab or timers"
        help="As crontab -l prints it, or /etc/crontab; or systemctl list-timers --output=json; or systemctl cat '*.timer'."
        rows={9}
        className={`${INPUT_CLASS} figures`}
        placeholder={EXAMPLE}
        spellCheck={false}
        {...api.field('text')}
      />
      <div className="grid items-start gap-5 sm:grid-cols-3">
        <ZoneField
          help="The zone of that machine."
          error={errors.zone}
          value={zone}
          onChange={(chosen) => set({ zone: chosen })}
        />
        <SelectField
          label="Its form"
          help="A system crontab names a user behind the times."
          error={errors.form}
          value={form}
          options={optionsOf({
            auto: 'find out, or ask',
            user: 'a user’s crontab',
            system: 'the system’s, with users',
          })}
          onChoose={(chosen) => set({ form: chosen })}
        />
        <SelectField
          label="Whose cron"
          help="Debian’s does not heed CRON_TZ, and takes a step in one of the days for both."
          error={errors.cron}
          value={cron}
          options={optionsOf({ auto: 'ask where it matters', debian: 'Debian’s', usual: 'another' })}
          onChoose={(chosen) => set({ cron: chosen })}
        />
        <TextField
          label="Wrapper"
          help="Where it lies on that machine. Without it there the jobs run all the same, and report nothing."
          className={`${INPUT_CLASS} figures`}
          {...api.field('wrapper')}
        />
        <OfferedField
          label="Section"
          help="For the machine; pasted again later, it tells what has drifted apart."
          placeholder="Office server"
          error={errors.section}
          value={section}
          offers={sections}
          onType={(typed) => set({ section: typed })}
        />
      </div>
      <div className="flex flex-wrap gap-2">
        <Button look="strong" disabled={busy} onClick={() => void read()}>
          Read it
        </Button>
        <FileButton
          label="Crontab or timers as a file"
          onRead={(found) => {
            api.refuse('', {});
            set({ text: found });
          }}
          onRefused={(why) => api.refuse('', { text: why })}
        >
          Take it from a file
        </FileButton>
      </div>
      {draft && draft.asks.length > 0 && <Asks asks={draft.asks} />}
      {draft && rows.length === 0 && <p className="text-muted">There is no job in it.</p>}
      {draft && rows.length > 0 && !made && (
        <>
          <JobRows rows={rows} onChange={change} />
          {draft.without.length > 0 && (
            <p className="text-late-text">
              In this section, but started by no line:{' '}
              {draft.without.map(({ id, name }, i) => (
                <span key={id}>
                  {i > 0 && ', '}
                  <Link href={`/watches/${id}`} className="underline">
                    {name}
                  </Link>
                </span>
              ))}
              .
            </p>
          )}
          <div>
            <Button
              look="strong"
              disabled={busy || chosen.length === 0 || draft.asks.length > 0}
              onClick={() => void make()}
            >
              {busy ? 'Making them…' : `Watch ${chosen.length === 1 ? 'one job' : `${chosen.length} jobs`}`}
            </Button>
          </div>
        </>
      )}
      <FormEnd form={api} />
      {made && <Handed made={made} before={text} />}
    </div>
  );
}

const QUESTIONS: Record<JobDraft['asks'][number], string> = {
  form: 'Does an account stand behind the times, or does the command begin there? These lines may be read either way: say which form it is, and read it again.',
  cron: 'Whose cron runs on that machine? What stands here means one thing to Debian’s and another to others: say whose it is, and read it again.',
};

/** What has to be said before anything is made of it: nothing is guessed. */
function Asks({ asks }: { asks: JobDraft['asks'] }) {
  return (
    <ul role="status" className="border-late bg-wash rounded-lg border-l-4 px-4 py-3">
      {asks.map((ask) => (
        <li key={ask} className="font-semibold">
          {QUESTIONS[ask]}
        </li>
      ))}
    </ul>
  );
}
