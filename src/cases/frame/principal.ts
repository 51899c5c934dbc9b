import type { Account } from '@/store/access/accounts';
import type { Right } from './right';

/** Who asks. It travels on every call, and is noted with everything that is changed. */
export type Principal = { rights: ReadonlySet<Right> } & (
  | { type: 'account'; account: Account; sessionId: number }
  | { type: 'token'; tokenId: number; tokenName: string }
  /** A job that reports to an address of its own making. */
  | { type: 'job'; address: string }
  /** Whoever holds a link that stood in a message: it lets them take one trouble, and nothing else. */
  | { type: 'link'; name: string }
  /** Whoever is at the machine itself, and may write into the data folder. */
  | { type: 'machine' }
  /** Whoever answers in a room that was told: the same, by what they go by there. */
  | { type: 'room'; name: string }
);

/** The principal as it is written down. */
export function actorOf(who: Principal): { kind: Principal['type']; id: number | null; name: string } {
  switch (who.type) {
    case 'account':
      return { kind: 'account', id: who.account.id, name: who.account.email };
    case 'token':
      return { kind: 'token', id: who.tokenId, name: who.tokenName };
    case 'job':
      return { kind: 'job', id: null, name: who.address };
    case 'machine':
      return { kind: 'machine', id: null, name: 'this machine' };
    case 'link':
    case 'room':
      return { kind: who.type, id: null, name: who.name };
  }
}
