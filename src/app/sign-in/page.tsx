import { redirect } from 'next/navigation';
import { serverContext } from '@/server/context';
import { hasAccounts } from '@/store/access/accounts';
import { CredentialsForm } from '@/ui/shell/credentials-form';
import { Entrance } from '@/ui/shell/entrance';

export const metadata = { title: 'Sign in' };

export default async function SignIn() {
  if (!(await hasAccounts(serverContext().db))) redirect('/welcome');
  return (
    <Entrance sentence="Welcome back." below="Sign in to see how everything is.">
      <CredentialsForm to="/api/session" action="Sign in" isNew={false} />
    </Entrance>
  );
}
