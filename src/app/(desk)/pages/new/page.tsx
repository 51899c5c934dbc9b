import { serverContext } from '@/server/context';
import { PageForm } from '@/ui/pages/page-form';
import { requestBase, requireRight } from '@/app/session';
import { fetchPageChoices, pageValues } from '@/views/pages/page-form';

export const metadata = { title: 'Make a public page' };

export default async function NewPage() {
  await requireRight('write');
  const { db, environment } = serverContext();
  return (
    <div className="flex flex-col gap-5">
      <h1>What shall the public see?</h1>
      <PageForm
        {...await fetchPageChoices(db, null)}
        initial={pageValues(null, new Set())}
        zone={environment.zone}
        base={await requestBase()}
        address={null}
        hasPassword={false}
        copy={{
          folder: environment.copies,
          hasCopyPassword: false,
          state: { copiedAt: null, problem: null },
        }}
      />
    </div>
  );
}
