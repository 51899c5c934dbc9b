import { redirect } from 'next/navigation';
import { serverContext } from '../../server/context';
import { hasAccounts } from '../../store/accounts';
import { CredentialsForm } from '../../ui/credentials-form';
import { Entrance } from '../../ui/entrance';
import { isReaderHere } from '../session';

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
