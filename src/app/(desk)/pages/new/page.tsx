import { serverContext } from '@/server/context';
import { fetchPages } from '@/store/pages/pages';
import { fetchNamedWatches } from '@/store/watches/watches';
import { PageForm } from '@/ui/pages/page-form';
import { requestBase, requireRight } from '@/app/session';

export const metadata = { title: 'Make a public page' };

export default async function NewPage() {
  await requireRight('write');
  const watches = await fetchNamedWatches(serverContext().db);
  const pages = await fetchPages(serverContext().db);
  return (
    <div className="flex flex-col gap-5">
      <h1>What shall the public see?</h1>
      <PageForm
        initial={{ title: '', slug: '', intro: '', sections: [{ title: '', items: [] }] }}
        watches={watches.map(({ id, name }) => ({ id, name }))}
        slugs={pages.map((page) => page.slug)}
        base={await requestBase()}
      />
    </div>
  );
}
