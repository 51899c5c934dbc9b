import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchSessions } from '@/store/access/accounts';
import { AccountForm } from '@/ui/access/account-form';
import { SessionList } from '@/ui/access/session-list';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Your account' };

export default async function AccountPage() {
  const { account, sessionId } = await requireRight('look');
  const sessions = await fetchSessions(serverContext().db, account.id, requestTime());
  return (
    <div className="flex flex-col gap-5">
      <div>
        <h1>Your account.</h1>
        <p className="text-muted mt-1.5">
          A session ends thirty days after you signed in, or when it was not used for seven.
        </p>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-[minmax(0,1fr)_24rem]">
        <SessionList sessions={sessions} here={sessionId} />
        <AccountForm email={account.email} />
      </div>
    </div>
  );
}
