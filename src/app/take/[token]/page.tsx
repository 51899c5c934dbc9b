import { readLinked } from '@/cases/messages/taking';
import { formatClock } from '@/core/time/clock-text';
import { serverContext } from '@/server/context';
import { TakeForm } from '@/ui/shell/take-form';
import { Entrance } from '@/ui/shell/entrance';

export const metadata = { title: 'I have it', robots: { index: false } };

/** What a link in a message leads to. Opening it changes nothing: previews of links open them too. */
export default async function Take({ params }: { params: Promise<{ token: string }> }) {
  const { token } = await params;
  const context = serverContext();
  const trouble = await readLinked(context.db, context, token);
  if (!trouble) {
    return (
      <Entrance
        sentence="There is nothing to take here."
        below="This link is about a trouble that is over, or it is more than a day old."
      >
        <a href="/">Open the desk</a>
      </Entrance>
    );
  }
  const { name, began, takenBy, isDrill } = trouble;
  const { zone } = context.place;
  return (
    <Entrance
      sentence={isDrill ? `A drill: ${name} is said to be down.` : `${name} is down.`}
      below={`Since ${formatClock(began, zone)} (${zone}). ${
        takenBy === null ? 'Nobody has it yet.' : `${takenBy} has it. You may take it over.`
      } Reminders and further steps rest then, and the others hear who has it.`}
    >
      <TakeForm token={token} />
    </Entrance>
  );
}
