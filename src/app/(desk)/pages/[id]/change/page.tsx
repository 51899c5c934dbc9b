import { serverContext } from '@/server/context';
import { fetchPages } from '@/store/pages/pages';
import { fetchNamedWatches } from '@/store/watches/watches';
import { pageVersion } from '@/cases/pages/pages';
import { PageForm } from '@/ui/pages/page-form';
import { pageOfPath } from '@/app/page-of';
import { requestBase, requireRight } from '@/app/session';

export const metadata = { title: 'Change a public page' };

export default async function ChangePage({ params }: { params: Promise<{ id: string }> }) {
  await requireRight('write');
  const page = await pageOfPath((await params).id);
  const { id, title, slug, intro, sections } = page;
  const watches = await fetchNamedWatches(serverContext().db);
  const pages = await fetchPages(serverContext().db);
  const known = new Set(watches.map((watch) => watch.id));
  return (
    <div className="flex flex-col gap-5">
      <h1>What {title} shows</h1>
      <PageForm
        initial={{
          title,
          slug,
          intro,
          // Watches that were deleted since leave the page with the next save.
          sections: sections.map((s) => ({ ...s, items: s.items.filter((item) => known.has(item.watchId)) })),
        }}
        watches={watches.map((watch) => ({ id: watch.id, name: watch.name }))}
        pageId={id}
        version={pageVersion(page)}
        slugs={pages.filter((other) => other.id !== id).map((other) => other.slug)}
        base={await requestBase()}
      />
    </div>
  );
}
