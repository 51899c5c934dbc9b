import type { IncidentKind } from '@/core/pages/incident';
import { requireRight } from '@/app/session';
import { serverContext } from '@/server/context';
import { Link } from '@/ui/basic/link';
import { TellForm, type TellValues } from '@/ui/pages/tell/tell-form';
import { Time } from '@/ui/form/zone';
import { ButtonLink } from '@/ui/basic/button';
import { fetchIncidentDraft } from '@/views/pages/incident-draft';
import { fetchTellChoices } from '@/views/pages/tell';

export const metadata = { title: 'Tell the public' };

interface NewIncidentProps {
  searchParams: Promise<{ outage?: string; page?: string; kind?: string }>;
}

const EMPTY: TellValues = {
  kind: 'incident',
  title: '',
  stage: 'looking',
  body: '',
  beganAt: '',
  endedAt: '',
  affected: [],
  pageIds: [],
  outageId: null,
};

export default async function NewIncident({ searchParams }: NewIncidentProps) {
  await requireRight('write');
  const { outage, page, kind } = await searchParams;
  const { db, place } = serverContext();
  const { pages, watches, texts } = await fetchTellChoices(db);
  const asked = /^\d{1,15}$/.test(outage ?? '')
    ? await fetchIncidentDraft(db, Number(outage), place.zone)
    : null;
  const chosen = pages.filter(({ id }) => String(id) === page).map(({ id }) => id);
  const iso = (at: number | null) => (at === null ? '' : new Date(at).toISOString());
  const initial: TellValues = asked
    ? { ...EMPTY, ...asked, beganAt: iso(asked.beganAt), endedAt: iso(asked.endedAt) }
    : {
        ...EMPTY,
        kind: (kind === 'notice' ? 'notice' : 'incident') satisfies IncidentKind,
        pageIds: chosen.length > 0 ? chosen : pages.slice(0, 1).map(({ id }) => id),
      };
  return (
    <div className="flex flex-col gap-5">
      <div>
        <h1>{asked ? `Tell the public: ${asked.title}.` : 'What should the public know?'}</h1>
        <p className="text-muted mt-1.5">
          {asked ? (
            <>
              Drafted from the outage that began <Time at={asked.beganAt} />. Nothing is published before you
              say so.
            </>
          ) : (
            'Nothing is published before you say so.'
          )}
        </p>
      </div>
      {pages.length === 0 ? (
        <p className="sheet flex flex-col items-start gap-3 p-6">
          There is no public page yet for it to stand on.
          <ButtonLink href="/pages/new" look="strong">
            Make the first page
          </ButtonLink>
        </p>
      ) : (
        <>
          {asked && asked.pageIds.length === 0 && (
            <p className="text-muted">
              What is out stands on no <Link href="/pages">public page</Link>. Choose where it is told all the
              same.
            </p>
          )}
          <TellForm initial={initial} pages={pages} watches={watches} texts={texts} />
        </>
      )}
    </div>
  );
}
