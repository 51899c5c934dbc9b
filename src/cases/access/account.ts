import { hashPassword, isPassword } from '@/accounts/passwords';
import {
  endOtherSessions,
  endSession as endKept,
  fetchAccountByEmail,
  fetchSessions,
  saveAccountChange,
  type OpenSession,
} from '@/store/access/accounts';
import { clearSignInFailures } from '@/store/access/sign-ins';
import { notFound, Refusal, refused } from '@/cases/frame/refusal';
import type { Principal } from '@/cases/frame/principal';
import { asIs, asks, changes, type Asking } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { accountChangeSchema } from '@/cases/schemas/account';

type SignedIn = Extract<Principal, { type: 'account' }>;

/** Somebody who signed in: a token has no password and no sessions. */
function signedIn(who: Principal): SignedIn {
  if (who.type !== 'account') {
    throw new Refusal('right.missing', 'Sign in for this; a token cannot do it.');
  }
  return who;
}

interface AccountChange {
  current: string;
  email?: string;
  password?: string;
}

/** Hashing takes a while, and is done before anything is locked. `throttle` slows down who goes on guessing. */
async function checkedChange(
  input: { body: unknown; throttle: (email: string) => Promise<void> },
  { who, db }: Asking,
) {
  const { account } = signedIn(who);
  const valid = await validateBody<AccountChange>(accountChangeSchema, input.body);
  await input.throttle(account.email);
  const kept = await fetchAccountByEmail(db, account.email);
  if (!kept || !(await isPassword(valid.current, kept.passwordHash))) {
    throw refused([{ field: 'current', message: 'This is not your present password.' }]);
  }
  return {
    email: valid.email,
    passwordHash: valid.password ? await hashPassword(valid.password) : undefined,
  };
}

/** Changes the e-mail address or the password of whoever asks; a new password ends all other sessions. */
export const changeAccount = changes(
  'changeAccount',
  'look',
  checkedChange,
  async ({ trx, who, about }, { email, passwordHash }): Promise<void> => {
    const { account, sessionId } = signedIn(who);
    await clearSignInFailures(trx, account.email);
    const other = email ? await fetchAccountByEmail(trx, email) : null;
    if (other && other.id !== account.id) {
      throw refused([{ field: 'email', message: 'Another account has this e-mail address.' }]);
    }
    await saveAccountChange(trx, account.id, { email, passwordHash });
    if (passwordHash) await endOtherSessions(trx, account.id, sessionId);
    about({ kind: 'account', id: account.id, name: email ?? account.email });
  },
);

/** Where the account is signed in. */
export const listSessions = asks('listSessions', 'look', async ({ db, who, now }) => {
  const { account, sessionId } = signedIn(who);
  const sessions: OpenSession[] = await fetchSessions(db, account.id, now);
  return sessions.map((session) => ({ ...session, here: session.id === sessionId }));
});

/** Signs out everywhere but here. */
export const endSessions = changes(
  'endSessions',
  'look',
  asIs<Record<string, never>>,
  async ({ trx, who, about }): Promise<void> => {
    const { account, sessionId } = signedIn(who);
    await endOtherSessions(trx, account.id, sessionId);
    about({ kind: 'account', id: account.id, name: account.email });
  },
);

/** Ends one session of one's own. */
export const endSession = changes(
  'endSession',
  'look',
  asIs<{ id: number }>,
  async ({ trx, who, about }, { id }): Promise<void> => {
    const { account } = signedIn(who);
    if (!(await endKept(trx, account.id, id))) throw notFound(`session ${id}`);
    about({ kind: 'account', id: account.id, name: account.email });
  },
);
