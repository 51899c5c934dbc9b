import { notFound } from 'next/navigation';
import { incidentVersion } from '@/cases/pages/incidents';
import { requireRight } from '@/app/session';
import { formatDuration } from '@/core/time/duration';
import { standsAt } from '@/core/pages/incident';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchOutage, fetchOutageNames } from '@/store/history/outages';
import { fetchEarlierTexts, fetchIncident } from '@/store/pages/incidents';
import { fetchPages } from '@/store/pages/pages';
import { DeleteThroughApi } from '@/ui/basic/delete-through-api';
import { Link } from '@/ui/basic/link';
import { Time } from '@/ui/form/zone';
import { TakeBack } from '@/ui/pages/followers/take-back';
import { AccountForm, FactsForm } from '@/ui/pages/tell/incident-facts';
import { UpdateForm } from '@/ui/pages/tell/update-form';
import { Updates } from '@/ui/pages/tell/updates';
import { pageAddress } from '@/core/pages/page-address';
import { fetchPendingLetters } from '@/views/pages/followers';
import { fetchTellChoices } from '@/views/pages/tell';

export const metadata = { title: 'Incident' };

export default async function IncidentPage({ params }: { params: Promise<{ id: string }> }) {
  await requireRight('write');
  const { id } = await params;
  const { db } = serverContext();
  const incident = /^\d{1,15}$/.test(id) ? await fetchIncident(db, Number(id)) : null;
  if (!incident) notFound();
  const { kind, title, began, ended, outageId, pageIds, updates } = incident;
  const now = requestTime();
  const version = incidentVersion(incident);
  const [earlier, { watches }, pages, pending] = await Promise.all([
    fetchEarlierTexts(db, incident.id),
    fetchTellChoices(db),
    fetchPages(db),
    fetchPendingLetters(db, incident.id),
  ]);
  const outage = outageId === null ? null : await fetchOutage(db, outageId);
  const names = outage ? await fetchOutageNames(db, [outage.id]) : null;
  const on = pages.filter((page) => pageIds.includes(page.id));
  const standing = kind === 'incident' ? ended === null : standsAt(incident, now);
  return (
    <div className="flex flex-col gap-5">
      <div className="flex flex-wrap items-start gap-3">
        <div className="min-w-0 flex-1 basis-72">
          <h1>{title}</h1>
          <p className="text-muted mt-1.5">
            {kind === 'incident' ? 'Since ' : 'A notice that begins '}
            <Time at={began} />
            {ended !== null && (
              <>
                {' to '}
                <Time at={ended} />
                {kind === 'incident' && `, ${formatDuration(ended - began)}`}
              </>
            )}
            {' · on '}
            {on.map((page, i) => (
              <span key={page.id}>
                {i > 0 && ', '}
                <a href={`${pageAddress('', page)}incident/${incident.id}`}>{page.title}</a>
              </span>
            ))}
            {outage && (
              <>
                {' · tells of '}
                <Link href={`/watches/${outage.watchId}`}>an outage of {names?.get(outage.id)?.watch}</Link>
              </>
            )}
          </p>
        </div>
        <DeleteThroughApi
          path={`/incidents/${incident.id}`}
          then={on[0] ? `/pages/${on[0].id}` : '/pages'}
          title={`Delete “${title}”?`}
          explanation="It leaves the public pages for good, with all its updates."
        />
      </div>
      {pending && (
        <TakeBack
          key={pending.dueAt}
          incidentId={incident.id}
          dueAt={pending.dueAt}
          leftMs={pending.dueAt - now}
        />
      )}
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-[minmax(0,1fr)_26rem]">
        <div className="flex flex-col gap-4">
          {(standing || kind === 'incident') && (
            <section className="sheet p-5">
              <h2 className="mb-3">{standing ? 'Say how it goes on' : 'Open it again, or add something'}</h2>
              <UpdateForm
                key={version}
                incidentId={incident.id}
                kind={kind}
                stage={updates[0]?.stage ?? 'looking'}
                version={version}
                outageEnded={outage?.ended ?? null}
              />
            </section>
          )}
          <section className="sheet p-5">
            <h2 className="mb-3">What was said</h2>
            <Updates
              incidentId={incident.id}
              kind={kind}
              version={version}
              updates={updates}
              earlier={earlier}
            />
          </section>
        </div>
        <div className="flex flex-col gap-4">
          <FactsForm key={`f${version}`} incident={incident} version={version} watches={watches} />
          {kind === 'incident' && ended !== null && (
            <AccountForm key={`a${version}`} incident={incident} version={version} />
          )}
        </div>
      </div>
    </div>
  );
}
