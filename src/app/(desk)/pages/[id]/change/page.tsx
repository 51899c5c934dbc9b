import { serverContext } from '@/server/context';
import { pageVersion } from '@/cases/pages/pages';
import { PageForm } from '@/ui/pages/page-form';
import { pageOfPath } from '@/app/page-of';
import { requestBase, requireRight } from '@/app/session';
import { fetchPageChoices, pageValues } from '@/views/pages/page-form';
import { fetchCopyState } from '@/store/pages/copies';
import { pageAddress } from '@/core/pages/page-address';

export const metadata = { title: 'Change a public page' };

export default async function ChangePage({ params }: { params: Promise<{ id: string }> }) {
  await requireRight('write');
  const page = await pageOfPath((await params).id);
  const { db, environment } = serverContext();
  const choices = await fetchPageChoices(db, page);
  const base = await requestBase();
  return (
    <div className="flex flex-col gap-5">
      <h1>What {page.title} shows</h1>
      <PageForm
        {...choices}
        initial={pageValues(page, new Set(choices.watches.map(({ id }) => id)))}
        zone={environment.zone}
        pageId={page.id}
        version={pageVersion(page)}
        base={base}
        address={pageAddress(base, page)}
        hasPassword={page.passwordHash !== null}
        copy={{
          folder: environment.copies,
          hasCopyPassword: page.copyPassword !== null,
          state: await fetchCopyState(db, page.id),
        }}
      />
    </div>
  );
}
