import { requireRight } from '@/app/session';
import { serverContext } from '@/server/context';
import { TextScreen } from '@/ui/messages/text-screen';
import { fetchTextChoices } from '@/views/messages/text-choices';

export const metadata = { title: 'Write a text' };

export default async function NewText() {
  await requireRight('operate');
  const { db, environment } = serverContext();
  return <TextScreen {...await fetchTextChoices(db)} zone={environment.zone} />;
}
