'use client';

import { formatDuration } from '@/core/time/duration';
import { capitalise, countOf } from '@/core/text/words';
import { callApi } from '@/ui/basic/call-api';
import { PastTrial } from '@/ui/form/past-trial';
import { Time } from '@/ui/form/zone';

interface Lived {
  beganAt: string;
  noticedAt: string;
  endedAt: string | null;
}

interface Trial {
  from: string;
  now: { outages: number; slow: number };
  then: { outages: number; slow: number };
  changed: (Lived & { thenNoticedAt: string | null })[];
  added: Lived[];
}

/** So many are shown one by one. */
const MOST_SHOWN = 8;

const between = (from: string, to: string) => Date.parse(to) - Date.parse(from);

function leadingSentence({ now, then, changed, added }: Trial): string {
  if (now.outages + then.outages === 0) return 'There was no outage, and there would have been none.';
  const gone = changed.filter(({ thenNoticedAt }) => thenNoticedAt === null).length;
  if (gone === 0 && added.length === 0) {
    const when = changed.length === 0 ? 'at the same time' : 'at another time';
    return `${capitalise(countOf(then.outages, 'outage'))} as now, noticed ${when}.`;
  }
  return `${capitalise(countOf(now.outages, 'outage'))} would have been ${then.outages === 0 ? 'none' : then.outages}.`;
}

function what({ noticedAt, thenNoticedAt }: Trial['changed'][number]): string {
  if (thenNoticedAt === null) return 'would not have been told';
  const ms = between(noticedAt, thenNoticedAt);
  return `noticed ${formatDuration(Math.abs(ms))} ${ms > 0 ? 'later' : 'sooner'}`;
}

function Row({ began, ended, children }: { began: string; ended: string | null; children: string }) {
  return (
    <li className="border-rule flex flex-wrap justify-between gap-x-4 border-t py-1.5">
      <span className="figures">
        <Time at={Date.parse(began)} />
        <span className="text-muted">
          {ended === null ? ', still down' : `, ${formatDuration(between(began, ended))}`}
        </span>
      </span>
      <span className="text-muted">{children}</span>
    </li>
  );
}

function Found({ trial }: { trial: Trial }) {
  const { from, now, then, changed, added } = trial;
  const rows = [
    ...changed.map((one) => ({ ...one, words: what(one) })),
    ...added.map((one) => ({ ...one, words: 'would have been told besides' })),
  ].sort((a, b) => Date.parse(b.beganAt) - Date.parse(a.beganAt));
  return (
    <>
      <p className="mt-2 font-serif text-lg">{leadingSentence(trial)}</p>
      <p className="text-muted text-[0.875rem]">
        Since <Time at={Date.parse(from)} />, as far as it is kept.
        {now.slow !== then.slow && ` It would have counted as slow ${then.slow} times, not ${now.slow}.`}
      </p>
      {rows.length > 0 && (
        <ul className="mt-2 text-[0.875rem]">
          {rows.slice(0, MOST_SHOWN).map(({ beganAt, endedAt, words }) => (
            <Row key={beganAt} began={beganAt} ended={endedAt}>
              {words}
            </Row>
          ))}
        </ul>
      )}
      {rows.length > MOST_SHOWN && (
        <p className="text-muted mt-1 text-[0.875rem]">And {rows.length - MOST_SHOWN} before those.</p>
      )}
    </>
  );
}

interface WatchPastProps {
  watchId: number;
  body: () => Record<string, unknown>;
}

/** Tries pace, patience and leeway of a watch on what is kept of it, before they are saved. */
export function WatchPast({ watchId, body }: WatchPastProps) {
  return (
    <PastTrial<Trial>
      help="How many alarms there would have been with these settings, and how much sooner or later."
      of={JSON.stringify(body())}
      ask={() => callApi('POST', `/watches/${watchId}/past-trials`, body())}
    >
      {(trial) => <Found trial={trial} />}
    </PastTrial>
  );
}
