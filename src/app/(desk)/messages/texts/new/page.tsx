import { requireRight } from '@/app/session';
import { serverContext } from '@/server/context';
import { Crumbs, MESSAGES, TEXTS } from '@/ui/basic/crumbs';
import { TextForm } from '@/ui/messages/text-form';
import { fetchTextChoices } from '@/views/messages/text-choices';

export const metadata = { title: 'Write a text' };

export default async function NewText() {
  await requireRight('operate');
  const { db, environment } = serverContext();
  return (
    <div className="flex flex-col gap-5">
      <div>
        <Crumbs to={[MESSAGES, TEXTS]} />
        <h1>In which words?</h1>
      </div>
      <TextForm {...await fetchTextChoices(db)} zone={environment.zone} />
    </div>
  );
}
