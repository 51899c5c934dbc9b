import { cursorOf } from '@/api/cursor';
import { AUDIENCE_WORDS, pageAddress } from '@/core/pages/page-address';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchIncidents } from '@/store/pages/incidents';
import { ButtonAnchor, ButtonLink } from '@/ui/basic/button';
import { DeleteThroughApi } from '@/ui/basic/delete-through-api';
import { incidentRow } from '@/ui/pages/incident-row';
import { IncidentList } from '@/ui/pages/incident-list';
import { pageOfPath } from '@/app/page-of';
import { requireRight } from '@/app/session';

/** So many stand there at once; more come as one scrolls. */
const FIRST = 50;

export const metadata = { title: 'Incidents' };

export default async function ManagePage({ params }: { params: Promise<{ id: string }> }) {
  await requireRight('write');
  const page = await pageOfPath((await params).id);
  const now = requestTime();
  const { db } = serverContext();
  const all = await fetchIncidents(db, { pageId: page.id }, { limit: FIRST + 1 });
  const incidents = all.slice(0, FIRST);
  const last = incidents.at(-1);
  const from =
    last && all.length > FIRST
      ? `/pages/${page.id}/incidents?limit=${FIRST}&cursor=${cursorOf([last.began, last.id])}`
      : null;
  const [open] = await fetchIncidents(db, { pageId: page.id, open: true, kind: 'incident' }, { limit: 1 });
  return (
    <div className="flex flex-col gap-5">
      <div className="flex flex-wrap items-start gap-3">
        <div className="min-w-0 flex-1 basis-72">
          <h1>{!open ? 'No incident is open.' : `${page.title} tells of trouble.`}</h1>
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
      {incidents.length > 0 && <IncidentList incidents={incidents.map(incidentRow)} from={from} now={now} />}
    </div>
  );
}
