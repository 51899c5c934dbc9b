import { hashPassword } from '@/accounts/passwords';
import { newSpokenSecret } from '@/accounts/secrets';
import {
  endOtherSessions,
  fetchAddresses,
  fetchAccountByEmail,
  saveAccountChange,
} from '@/store/access/accounts';
import { clearSignInFailures } from '@/store/access/sign-ins';
import { RIGHTS } from '@/cases/frame/right';
import type { Principal } from '@/cases/frame/principal';
import { refused } from '@/cases/frame/refusal';
import { changes } from '@/cases/frame/use-case';

/** Whoever may write into the data folder, which is all there is to be guarded. */
export const THIS_MACHINE: Principal = { type: 'machine', rights: new Set(RIGHTS) };

/**
 * Gives an account that nobody can open any more another password, and ends all its sessions. Where there is one account,
 * it need not be named.
 */
export const renewPassword = changes(
  'renewPassword',
  'operate',
  async ({ email }: { email: string | null }, { db }) => {
    const known = await fetchAddresses(db);
    const only = known.length === 1 ? known[0]! : null;
    const account = await fetchAccountByEmail(db, email ?? only ?? '');
    if (!account) {
      const wanted = known.length === 0 ? 'There is no account yet' : `Expected one of ${known.join(', ')}`;
      const message = `${wanted}, got ${email === null ? 'nothing' : `“${email}”`}.`;
      throw refused([{ field: 'email', message }]);
    }
    const password = newSpokenSecret();
    return { account, password, passwordHash: await hashPassword(password) };
  },
  async ({ trx, about }, { account, password, passwordHash }) => {
    const { id, email } = account;
    await saveAccountChange(trx, id, { passwordHash });
    await endOtherSessions(trx, id, null);
    await clearSignInFailures(trx, email);
    about({ kind: 'account', id, name: email });
    return { email, password };
  },
);
