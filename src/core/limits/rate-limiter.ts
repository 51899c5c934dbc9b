/** How often one sender may do one thing before it is slowed. */
export interface RateLimits {
  /** So many in a row cost nothing. */
  burst: number;
  /** So many a second are let through for good. */
  perSecond: number;
  /** Nobody is made to wait longer than this. */
  longestMs: number;
}

interface Bucket {
  left: number;
  at: number;
}

const MOST_SENDERS = 10_000;

/**
 * Slows whoever floods, and nobody else: each sender has a bucket of its own that fills again with time. Nothing is
 * refused. Memory is bounded; the sender that was quiet longest is forgotten first.
 */
export class RateLimiter {
  private readonly buckets = new Map<string, Bucket>();

  constructor(private readonly limits: RateLimits) {}

  /** How long this one has to wait, in ms; `now` is in ms and does not run backwards. */
  waitMs(sender: string, now: number): number {
    const { burst, perSecond, longestMs } = this.limits;
    const bucket = this.buckets.get(sender) ?? { left: burst, at: now };
    const left = Math.min(burst, bucket.left + ((now - bucket.at) / 1000) * perSecond) - 1;
    // Whoever goes on flooding does not owe more than the longest wait.
    const owed = Math.max(left, (-longestMs / 1000) * perSecond);
    this.buckets.delete(sender);
    this.buckets.set(sender, { left: owed, at: now });
    if (this.buckets.size > MOST_SENDERS) this.buckets.delete(this.buckets.keys().next().value!);
    return owed >= 0 ? 0 : (-owed / perSecond) * 1000;
  }
}
