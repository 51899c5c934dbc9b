import { serverContext } from '@/server/context';
import { fetchShown } from '@/store/pages/shown';
import { Link } from '@/ui/basic/link';
import { BadgeForm, type BadgeChoice } from '@/ui/pages/badge-form';
import { pageOfPath } from '@/app/page-of';
import { requestBase, requireRight } from '@/app/session';
import { pageAddress } from '@/core/pages/page-address';

export const metadata = { title: 'Badges and frames' };

export default async function Badges({ params }: { params: Promise<{ id: string }> }) {
  await requireRight('write');
  const page = await pageOfPath((await params).id);
  const shown = await fetchShown(serverContext().db, page.sections);
  const choices: BadgeChoice[] = [
    { value: 'page', text: 'the whole page', label: page.title },
    ...shown.flatMap(({ title, items }, i) => [
      ...(items.length > 0 && title
        ? [{ value: String(i + 1), text: `section ${title}`, label: title }]
        : []),
      ...items.map(({ label }, k) => ({ value: `${i + 1}-${k + 1}`, text: label, label })),
    ]),
  ];
  const address = pageAddress(await requestBase(), page);
  const closed = page.audience === 'password' || page.audience === 'signed-in';
  return (
    <div className="flex flex-col gap-5">
      <div>
        <h1>What others show of {page.title}</h1>
        <p className="text-muted mt-1.5">
          {closed
            ? 'Only whoever may see the page sees these: nobody else’s page can show them.'
            : 'They show nothing that is not on the page, and are right within a minute.'}
        </p>
      </div>
      <BadgeForm
        pictures={`${address}badge/`}
        leadsTo={address}
        page={{ address, title: page.title }}
        choices={choices}
        language={page.language}
      />
      <p className="text-muted">
        Of what stands on no page, such as a tag, there are{' '}
        <Link href="/pages/badges">badges with an address that nobody can guess</Link>.
      </p>
    </div>
  );
}
