import { capitalise, countWatches } from '@/core/text/words';
import { serverContext } from '@/server/context';
import { SectionList } from '@/ui/watches/section-list';
import { TagList } from '@/ui/watches/tag-list';
import { requestBase, requireRight } from '@/app/session';
import { fetchSectionsView } from '@/views/settings/sections';

export const metadata = { title: 'Sections and tags' };

export default async function SectionsPage() {
  await requireRight('operate');
  const { sections, tags, loose } = await fetchSectionsView(serverContext().db, {
    base: await requestBase(),
    now: Date.now(),
  });
  return (
    <div className="flex max-w-4xl flex-col gap-8">
      <div>
        <h1>How the watches are put together</h1>
        <p className="text-muted mt-1.5">
          Sections stand on the desk in this order. Drag them by their handle, or lift one with space and move
          it with the arrow keys.
          {loose > 0 && ` ${capitalise(countWatches(loose))} ${loose === 1 ? 'is' : 'are'} in none.`}
        </p>
      </div>
      <section className="flex flex-col gap-2">
        <h2>Sections</h2>
        <SectionList sections={sections} />
      </section>
      <section className="flex flex-col gap-2">
        <h2>Tags</h2>
        <TagList tags={tags} />
      </section>
    </div>
  );
}
