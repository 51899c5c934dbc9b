import { serverContext } from '../../../../server/context';
import { fetchNamedWatches } from '../../../../store/watches';
import { PageForm } from '../../../../ui/page-form';
import { requestBase } from '../../../session';

export const metadata = { title: 'Make a public page' };

export default async function NewPage() {
  const watches = await fetchNamedWatches(serverContext().db);
  return (
    <div className="flex flex-col gap-5">
      <h1>What shall the public see?</h1>
      <PageForm
        initial={{ title: '', slug: '', intro: '', sections: [{ title: '', items: [] }] }}
        watches={watches.map(({ id, name }) => ({ id, name }))}
        base={await requestBase()}
      />
    </div>
  );
}
