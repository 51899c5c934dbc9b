import type { Knex } from 'knex';
import { hashPassword } from '@/accounts/passwords';
import { hashSecret } from '@/accounts/secrets';
import type { Environment } from '@/core/settings/environment';
import { hasAccounts, saveAccount } from '@/store/access/accounts';
import { isRevoked, saveToken } from '@/store/access/tokens';
import { log } from '@/server/base/log';

const SHORTEST_TOKEN = 20;

/** For an unattended first start: makes the account and the token the environment names. */
export async function prepareFirstStart(db: Knex, environment: Environment, now: number): Promise<void> {
  const { adminEmail, adminPassword, apiToken } = environment;
  if (adminEmail && adminPassword && !(await hasAccounts(db))) {
    const passwordHash = await hashPassword(adminPassword);
    await saveAccount(db, { email: adminEmail, passwordHash, createdAt: now });
  }
  if (apiToken) {
    if (apiToken.length < SHORTEST_TOKEN) {
      throw new Error(
        `Expected LANTERN_API_TOKEN to have at least ${SHORTEST_TOKEN} characters, got ${apiToken.length}.`,
      );
    }
    if (await isRevoked(db, hashSecret(apiToken))) {
      log('the token in LANTERN_API_TOKEN was revoked on the desk and stays so; set another one');
    }
    await saveToken(db, { name: 'from the environment', tokenHash: hashSecret(apiToken), createdAt: now });
  }
}
