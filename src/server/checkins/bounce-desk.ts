import { MAIL_SERVER, noteBounce } from '@/cases/followers/bounces';
import type { World } from '@/cases/frame/world';
import { fetchBounced } from '@/store/followers/bounce-addresses';
import { ensureTakeKey } from '@/store/messages/take-links';
import type { BounceDesk } from './mail-endpoint';

/** Where letters to followers come back to. */
export function bounceDesk(world: () => World): BounceDesk {
  return {
    find: async (local) => {
      const { db, vault } = world();
      return (await fetchBounced(db, local, await ensureTakeKey(db, vault)))?.id ?? null;
    },
    note: (followerId, bounce) => noteBounce(MAIL_SERVER, { followerId, bounce }, world()),
  };
}
