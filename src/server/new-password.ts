import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { renewPassword, THIS_MACHINE } from '@/cases/access/new-password';
import type { World } from '@/cases/frame/world';
import { linkBase, readEnvironment } from '@/core/settings/environment';
import { openStore } from '@/store/db/open';

/** calm-lantern new-password [EMAIL]: for whoever cannot sign in any more, at the machine itself. */
async function main(email: string | null): Promise<void> {
  const environment = readEnvironment(process.env);
  const { dataFolder } = environment;
  if (!existsSync(join(dataFolder, 'lantern.db'))) {
    throw new Error(
      `Expected LANTERN_DATA to be the folder of a Calm Lantern; there is none in ${dataFolder}.`,
    );
  }
  const db = await openStore(dataFolder, { migrate: false });
  try {
    const world = { db, now: () => Date.now() } as World;
    const renewed = await renewPassword(THIS_MACHINE, { email }, world);
    process.stdout.write(
      `The new password of ${renewed.email} is  ${renewed.password}\n` +
        `It is signed out everywhere. Sign in at ${linkBase(environment)}/sign-in, and choose one of your own under Account.\n`,
    );
  } finally {
    await db.destroy();
  }
}

main(process.argv[2] ?? null).catch((error: unknown) => {
  process.stderr.write(`${(error as Error).message}\n`);
  process.exitCode = 1;
});
