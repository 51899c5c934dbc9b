import { isDeadAddress, type Bounce } from '@/core/followers/bounce';
import { REFUSALS_UNTIL_ASIDE } from '@/core/followers/follower';
import type { Principal } from '@/cases/frame/principal';
import { asIs, changes } from '@/cases/frame/use-case';
import { fetchFollower, saveBounced } from '@/store/followers/followers';
import { saveCameBack } from '@/store/followers/letters';
import { fetchPage } from '@/store/pages/pages';

/** A mail server that says what became of a letter. */
export const MAIL_SERVER: Principal = {
  type: 'link',
  name: 'a mail server',
  rights: new Set(['operate']),
};

/** Notes that a letter came back, and puts an address aside that took none three times. */
export const noteBounce = changes(
  'noteBounce',
  'operate',
  asIs<{ followerId: number; bounce: Bounce }>,
  async ({ trx, now, about }, { followerId, bounce }): Promise<void> => {
    const follower = await fetchFollower(trx, followerId);
    if (!follower) return;
    const said = `came back: ${bounce.status} ${bounce.said}`.trim();
    await saveCameBack(trx, followerId, said);
    if (!isDeadAddress(bounce)) return;
    const aside = follower.refusals + 1 >= REFUSALS_UNTIL_ASIDE;
    await saveBounced(trx, followerId, { at: now, asideWhy: aside ? said : null });
    about({ kind: 'follower', id: followerId, name: (await fetchPage(trx, follower.pageId))?.title ?? '' });
  },
);
