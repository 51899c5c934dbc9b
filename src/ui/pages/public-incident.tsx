import { STAGE_TITLES } from '@/core/pages/incident';
import { formatDuration } from '@/core/time/duration';
import type { Incident } from '@/store/pages/incidents';
import { IncidentUpdates } from './incident-updates';
import { Markdown } from '@/ui/basic/markdown';
import { Time } from '@/ui/form/zone';

/** An open incident, the newest update first. */
export function OpenIncident({ incident }: { incident: Incident }) {
  return (
    <article className="sheet border-l-down border-l-[5px] px-5 py-4" aria-label={incident.title}>
      <h2>{incident.title}</h2>
      <IncidentUpdates updates={incident.updates} />
    </article>
  );
}

/** A past incident in the diary: how it ended, and the whole course on demand. */
export function PastIncident({ incident }: { incident: Incident }) {
  const last = incident.updates[0];
  return (
    <li className="border-rule border-t py-3">
      <p className="figures text-muted text-[0.8438rem]">
        <Time at={incident.began} as="day" /> ·{' '}
        {formatDuration((incident.ended ?? incident.began) - incident.began)}
      </p>
      <details>
        <summary className="cursor-pointer font-semibold">{incident.title}</summary>
        <ol className="mt-1 flex flex-col gap-1.5 text-[0.9062rem]">
          {incident.updates.map((update) => (
            <li key={update.id} className="prose-inline">
              <span className="figures text-muted text-[0.8125rem]">
                <Time at={update.at} />
              </span>{' '}
              <strong>{STAGE_TITLES[update.stage]}.</strong> <Markdown text={update.body} />
            </li>
          ))}
        </ol>
      </details>
      {last && <Markdown text={last.body} />}
    </li>
  );
}
