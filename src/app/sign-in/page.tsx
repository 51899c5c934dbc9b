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
      <details className="text-muted mt-4 text-[0.875rem]">
        <summary className="cursor-pointer">Forgotten the password?</summary>
        <p className="mt-2">
          On the machine that runs Calm Lantern,{' '}
          <code className="figures text-ink">npm run new-password</code> (where it was installed as one file,{' '}
          <code className="figures text-ink">calm-lantern new-password</code>) makes another one and signs out
          everywhere.
        </p>
      </details>
    </Entrance>
  );
}
