import { serverContext } from '@/server/context';
import { fetchIncidents } from '@/store/pages/incidents';
import { ButtonLink } from '@/ui/basic/button';
import { DeleteThroughApi } from '@/ui/basic/delete-through-api';
import { IncidentUpdates } from '@/ui/pages/incident-updates';
import { IncidentForm } from '@/ui/pages/incident-form';
import { pageOfPath } from '@/app/page-of';
import { requireRight } from '@/app/session';

const MOST_INCIDENTS = 10_000;

export const metadata = { title: 'Incidents' };

export default async function ManagePage({ params }: { params: Promise<{ id: string }> }) {
  await requireRight('write');
  const page = await pageOfPath((await params).id);
  const incidents = await fetchIncidents(serverContext().db, { pageId: page.id }, { limit: MOST_INCIDENTS });
  const open = incidents.filter((incident) => incident.ended === null);
  return (
    <div className="flex flex-col gap-5">
      <div className="flex flex-wrap items-start gap-3">
        <div className="flex-1">
          <h1>{open.length === 0 ? 'No incident is open.' : `${page.title} tells of trouble.`}</h1>
          <p className="text-muted mt-1.5">
            {page.title} · /p/{page.slug}
          </p>
        </div>
        <ButtonLink href={`/p/${page.slug}`} prefetch={false}>
          See the page
        </ButtonLink>
        <ButtonLink href={`/pages/${page.id}/change`}>Change the page</ButtonLink>
        <DeleteThroughApi
          path={`/pages/${page.id}`}
          then="/pages"
          title={`Delete ${page.title}?`}
          explanation="The page and all its incidents are gone for good. The watches stay."
        />
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-[minmax(0,1fr)_24rem]">
        <div className="flex flex-col gap-4">
          {incidents.length === 0 && (
            <p className="sheet text-muted p-6">
              An incident is something told to the public, with dated updates. For example: “Online booking is
              not answering. You can still buy tickets at either pier.”
            </p>
          )}
          {incidents.map((incident) => (
            <article
              key={incident.id}
              className={`sheet border-l-4 p-5 ${incident.ended === null ? 'border-l-down' : ''}`}
              aria-label={incident.title}
            >
              <div className="flex items-start gap-3">
                <h2 className="flex-1">{incident.title}</h2>
                <DeleteThroughApi
                  path={`/incidents/${incident.id}`}
                  title={`Delete “${incident.title}”?`}
                  explanation="It leaves the public page for good, with all its updates."
                />
              </div>
              <div className="mb-3">
                <IncidentUpdates updates={incident.updates} />
              </div>
              {incident.ended === null && (
                <details className="border-rule border-t pt-3">
                  <summary className="cursor-pointer font-semibold">Add an update</summary>
                  <div className="mt-3">
                    <IncidentForm
                      on={{ incidentId: incident.id }}
                      stage={incident.updates[0]?.stage ?? 'looking'}
                    />
                  </div>
                </details>
              )}
            </article>
          ))}
        </div>
        <section className="sheet p-5">
          <h2 className="mb-2">Write an incident</h2>
          <IncidentForm on={{ pageId: page.id }} stage="looking" />
        </section>
      </div>
    </div>
  );
}
