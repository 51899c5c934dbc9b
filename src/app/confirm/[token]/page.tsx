import { readConsentLink } from '@/cases/messages/consent';
import { serverContext } from '@/server/context';
import { ConfirmForm } from '@/ui/shell/confirm-form';
import { Entrance } from '@/ui/shell/entrance';

export const metadata = { title: 'Messages by mail', robots: { index: false } };

/** What the link in a mail leads to that asks for consent. Opening it changes nothing: previews open links too. */
export default async function Confirm({ params }: { params: Promise<{ token: string }> }) {
  const { token } = await params;
  const context = serverContext();
  const address = await readConsentLink(context.db, context, token);
  if (address === null) {
    return (
      <Entrance
        sentence="This link says nothing any more."
        below="It is more than two weeks old, or was not made here. Nothing is sent to you; whoever wants to send you messages can ask again."
      >
        <></>
      </Entrance>
    );
  }
  return (
    <Entrance
      sentence="Do you want these messages?"
      below={`Somebody who looks after services wants to send messages to ${address} when something is down. Nothing is sent before you say yes.`}
    >
      <ConfirmForm token={token} />
    </Entrance>
  );
}
