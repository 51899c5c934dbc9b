import { notFound } from 'next/navigation';
import { requireRight } from '@/app/session';
import { textVersion } from '@/cases/messages/texts';
import { serverContext } from '@/server/context';
import { fetchTexts } from '@/store/messages/texts';
import { TextScreen } from '@/ui/messages/text-screen';
import { fetchTextChoices } from '@/views/messages/text-choices';

export const metadata = { title: 'Change a text' };

export default async function ChangeText({ params }: { params: Promise<{ id: string }> }) {
  await requireRight('operate');
  const { db, environment } = serverContext();
  const { id } = await params;
  const text = (await fetchTexts(db)).find((one) => String(one.id) === id);
  if (!text) notFound();
  return (
    <TextScreen
      {...await fetchTextChoices(db)}
      text={{ ...text, version: textVersion(text) }}
      zone={environment.zone}
    />
  );
}
