import { RateLimiter } from '@/core/limits/rate-limiter';
import { throttledClient } from '@/core/limits/sign-in-throttle';
import type { Asked } from './asked';

const ENDLESS = { burst: 30, perSecond: 1, longestMs: 60_000 };

/** There are as many searches, badges, and names to be asked under, as one can think of: each client has so many drawn. */
export class Slowing {
  private readonly limiter = new RateLimiter(ENDLESS);

  /** Whether a client has to wait before one more is drawn; `now` is in ms and does not run backwards. */
  isSlowed(asked: Asked | { what: 'badge' }, client: string, now: number): boolean {
    const endless =
      asked.what === 'sheet' ? asked.words !== null : asked.what === 'file' || asked.what === 'badge';
    return endless && this.limiter.waitMs(`${asked.what} ${throttledClient(client)}`, now) > 0;
  }
}
