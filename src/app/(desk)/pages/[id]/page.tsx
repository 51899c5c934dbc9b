import Link from 'next/link';
import { standsAt, STAGE_TITLES } from '@/core/pages/incident';
import { plainMarkdown } from '@/core/text/markdown';
import { formatDuration } from '@/core/time/duration';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchIncidents, type Incident } from '@/store/pages/incidents';
import { ButtonAnchor, ButtonLink } from '@/ui/basic/button';
import { DeleteThroughApi } from '@/ui/basic/delete-through-api';
import { Time } from '@/ui/form/zone';
import { pageOfPath } from '@/app/page-of';
import { requireRight } from '@/app/session';
import { AUDIENCE_WORDS, pageAddress } from '@/core/pages/page-address';

/** So many are listed at once; the rest is found in the diary of the page. */
const MOST_LISTED = 100;

export const metadata = { title: 'Incidents' };

function Row({ incident, now }: { incident: Incident; now: number }) {
  const { id, kind, title, began, ended, updates } = incident;
  const standing = kind === 'incident' ? ended === null : standsAt(incident, now);
  const last = updates[0];
  return (
    <li
      className={`sheet border-l-4 px-5 py-4 ${standing ? (kind === 'notice' ? 'border-l-button' : 'border-l-down') : ''}`}
    >
      <h2>
        <Link href={`/incidents/${id}`}>{title}</Link>
      </h2>
      <p className="text-muted text-[0.875rem]">
        {kind === 'notice' ? 'Notice' : last ? STAGE_TITLES[last.stage] : ''} · <Time at={began} />
        {ended !== null && kind === 'incident' && ` · ${formatDuration(ended - began)}`}
      </p>
      {last && <p className="mt-1 line-clamp-2">{plainMarkdown(last.body)}</p>}
    </li>
  );
}

export default async function ManagePage({ params }: { params: Promise<{ id: string }> }) {
  await requireRight('write');
  const page = await pageOfPath((await params).id);
  const now = requestTime();
  const all = await fetchIncidents(serverContext().db, { pageId: page.id }, { limit: MOST_LISTED + 1 });
  const incidents = all.slice(0, MOST_LISTED);
  const open = incidents.filter(({ kind, ended }) => kind === 'incident' && ended === null);
  return (
    <div className="flex flex-col gap-5">
      <div className="flex flex-wrap items-start gap-3">
        <div className="flex-1">
          <h1>{open.length === 0 ? 'No incident is open.' : `${page.title} tells of trouble.`}</h1>
          <p className="text-muted mt-1.5">
            {page.title} · {pageAddress('', page)} · {AUDIENCE_WORDS[page.audience]}
          </p>
        </div>
        <ButtonLink href={`/incidents/new?page=${page.id}`} look="strong">
          Tell the public
        </ButtonLink>
        <ButtonAnchor href={pageAddress('', page)}>See the page</ButtonAnchor>
        <ButtonLink href={`/pages/${page.id}/followers`}>Followers</ButtonLink>
        <ButtonLink href={`/pages/${page.id}/badges`}>Badges</ButtonLink>
        <ButtonLink href={`/pages/${page.id}/change`}>Change the page</ButtonLink>
        <DeleteThroughApi
          path={`/pages/${page.id}`}
          then="/pages"
          title={`Delete ${page.title}?`}
          explanation="The page is gone for good, and so are incidents that stand on no other page. The watches stay."
        />
      </div>
      {incidents.length === 0 && (
        <p className="sheet text-muted max-w-3xl p-6">
          An incident is something told to the public, with dated updates. For example: “Online booking is not
          answering. You can still buy tickets at either pier.” A notice tells of something else, such as
          holidays.
        </p>
      )}
      <ol className="flex max-w-3xl flex-col gap-4">
        {incidents.map((incident) => (
          <Row key={incident.id} incident={incident} now={now} />
        ))}
      </ol>
      {all.length > MOST_LISTED && (
        <p>
          Older ones stand in the <a href={`${pageAddress('', page)}diary`}>diary of the page</a>.
        </p>
      )}
    </div>
  );
}
