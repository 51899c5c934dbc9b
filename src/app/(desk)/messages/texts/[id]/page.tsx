import { notFound } from 'next/navigation';
import { requireRight } from '@/app/session';
import { textVersion } from '@/cases/messages/texts';
import { serverContext } from '@/server/context';
import { fetchTexts } from '@/store/messages/texts';
import { Crumbs, MESSAGES, TEXTS } from '@/ui/basic/crumbs';
import { TextForm } from '@/ui/messages/text-form';
import { fetchTextChoices } from '@/views/messages/text-choices';

export const metadata = { title: 'Change a text' };

export default async function ChangeText({ params }: { params: Promise<{ id: string }> }) {
  await requireRight('operate');
  const { db, environment } = serverContext();
  const { id } = await params;
  const text = (await fetchTexts(db)).find((one) => String(one.id) === id);
  if (!text) notFound();
  return (
    <div className="flex flex-col gap-5">
      <div>
        <Crumbs to={[MESSAGES, TEXTS]} />
        <h1>In which words?</h1>
      </div>
      <TextForm
        {...await fetchTextChoices(db)}
        text={{ ...text, version: textVersion(text) }}
        zone={environment.zone}
      />
    </div>
  );
}
