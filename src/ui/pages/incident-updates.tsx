import { STAGE_TITLES } from '@/core/pages/incident';
import type { IncidentUpdate } from '@/store/pages/incidents';
import { Markdown } from '@/ui/basic/markdown';
import { Time } from '@/ui/form/zone';

/** The course of an incident, the newest update first. */
export function IncidentUpdates({ updates }: { updates: readonly IncidentUpdate[] }) {
  return (
    <ol className="mt-2 flex flex-col gap-2">
      {updates.map((update) => (
        <li key={update.id} className="grid gap-x-4 sm:grid-cols-[9.5rem_1fr]">
          <span className="figures text-muted text-[0.8438rem]">
            <Time at={update.at} />
          </span>
          <div className="prose-inline">
            <strong>{STAGE_TITLES[update.stage]}.</strong> <Markdown text={update.body} />
          </div>
        </li>
      ))}
    </ol>
  );
}
