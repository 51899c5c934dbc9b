import { redirect } from 'next/navigation';
import { serverContext } from '@/server/context';
import { hasAccounts } from '@/store/access/accounts';
import { CredentialsForm } from '@/ui/shell/credentials-form';
import { Entrance } from '@/ui/shell/entrance';
import { isReaderHere } from '@/app/session';

export const metadata = { title: 'Welcome' };

export default async function Welcome() {
  if (await hasAccounts(serverContext().db)) redirect('/sign-in');
  return (
    <Entrance
      sentence="Let us light the lantern."
      below="Make the first account. It looks after everything here; nothing is sent anywhere."
    >
      <CredentialsForm
        to="/api/first-account"
        action="Make the account"
        isNew
        withCode={!(await isReaderHere())}
      />
    </Entrance>
  );
}
