import { formatMs } from '@/core/time/duration';
import { readyLines } from '@/core/imports/ready-lines';
import { mailAddressOf } from '@/core/reports/mail-words';
import type { WatchWithStatus } from '@/store/watches/watches';
import { Link } from '@/ui/basic/link';
import type { WatchView } from '@/views/watch/watch';
import { JobAddress } from '@/ui/jobs/job-address';
import { ReadyLines } from '@/ui/jobs/ready-lines';
import { Ladder } from './ladder';
import { LookFacts, PhaseBars } from './look-result';
import { Time } from '@/ui/form/zone';

/** The last look of a probe, phase by phase. */
export function LastLook({ watch, now }: { watch: WatchWithStatus; now: number }) {
  const finding = watch.lastFinding;
  return (
    <section className="sheet p-4">
      <h2>The last look</h2>
      {!finding && <p className="text-muted">The first one is under way.</p>}
      {finding && (
        <>
          <p className="text-muted mb-2 text-[0.875rem]">
            <Time at={finding.at} as="seconds" /> · {finding.verdict} in {formatMs(finding.ms)}
          </p>
          {finding.verdict === 'failed' && <Ladder rungs={finding.evidence?.ladder ?? []} />}
          {finding.evidence?.phases && <PhaseBars phases={finding.evidence.phases} />}
          {finding.evidence && <LookFacts evidence={finding.evidence} now={now} />}
        </>
      )}
    </section>
  );
}

/** Where a job reports, and lines ready to paste. */
export function CheckinAddress({
  watch,
  base,
  sectionSecret,
  mailDomain,
  now,
}: {
  watch: WatchWithStatus;
  base: string;
  sectionSecret: string | null;
  mailDomain: string | null;
  now: number;
}) {
  if (watch.config.type !== 'checkin' || !watch.checkinKey) return null;
  const { checkinName, section, oldKey, name } = watch;
  const address = `${base}/in/${watch.checkinKey}`;
  const readable = sectionSecret && checkinName ? `${base}/in/${sectionSecret}/${checkinName}` : null;
  const mail = mailDomain && mailAddressOf(watch.checkinKey, mailDomain);
  return (
    <section className="sheet flex flex-col gap-3 p-4">
      <h2>Where the job reports</h2>
      <JobAddress
        watchId={watch.id}
        address={address}
        mail={mail}
        readable={readable}
        readableName={checkinName}
        section={section}
        oldKey={oldKey}
        now={now}
      />
      <ReadyLines
        lines={readyLines({
          address: readable ?? address,
          base,
          mail,
          name,
          schedule: watch.config.schedule,
        })}
      />
      <p className="text-muted text-[0.8438rem]">
        <code className="figures whitespace-nowrap">?is=begun</code> before a run lets its length be measured;{' '}
        <code className="figures whitespace-nowrap">?run=</code> ties the two together when runs overlap;{' '}
        <code className="figures whitespace-nowrap">?progress=</code> tells how far it is.
      </p>
    </section>
  );
}

export function DueTimes({ dues }: { dues: number[] }) {
  return (
    <section className="sheet p-4">
      <h2>Due next</h2>
      {dues.length === 0 && (
        <p className="text-muted mt-1 text-[0.875rem]">Its time is counted from its first check-in.</p>
      )}
      <ol className="figures mt-1 text-[0.875rem]">
        {dues.map((due) => (
          <li key={due}>
            <Time at={due} />
          </li>
        ))}
      </ol>
    </section>
  );
}

interface IfItGoesDownProps {
  foretold: string;
  unheard: boolean;
  runbook: { link: string; note: string };
}

/** Who would hear of it, and what is to be done then. */
export function IfItGoesDown({ foretold, unheard, runbook }: IfItGoesDownProps) {
  return (
    <section className="sheet p-4">
      <h2>If it goes down now</h2>
      <p className={`mt-1 ${unheard ? 'font-semibold' : ''}`}>
        {foretold}{' '}
        <Link href="/messages" className="underline">
          Who hears what
        </Link>
      </p>
      {runbook.note !== '' && <p className="mt-2 whitespace-pre-line">{runbook.note}</p>}
      {runbook.link !== '' && (
        <p className="mt-2">
          <a href={runbook.link} rel="noreferrer" className="underline">
            Runbook
          </a>
        </p>
      )}
    </section>
  );
}

export function HowItDecides({ view, watchId }: { view: WatchView; watchId: number }) {
  return (
    <section className="sheet p-4">
      <h2>How it decides</h2>
      <p className="text-muted mt-1 text-[0.9062rem]">
        {view.decides}{' '}
        <Link href={`/watches/${watchId}/change`} className="underline">
          Set it otherwise
        </Link>
      </p>
    </section>
  );
}
