import { newSecret } from '@/accounts/secrets';
import type { ArrivalPort } from '@/cases/frame/world';
import type { Arrival } from '@/core/pages/host-check';

const MOST_EXPECTED = 20;

/** Requests of our own that are to come back to us, by whatever way a name leads. */
export class Arrivals implements ArrivalPort {
  /** The oldest comes first. */
  private readonly expected = new Map<string, Arrival | null>();

  expect(): { path: string; came: () => Arrival | null; forget: () => void } {
    const mark = newSecret();
    this.expected.set(mark, null);
    for (const oldest of this.expected.keys()) {
      if (this.expected.size <= MOST_EXPECTED) break;
      this.expected.delete(oldest);
    }
    return {
      path: `/whose/${mark}`,
      came: () => this.expected.get(mark) ?? null,
      forget: () => this.expected.delete(mark),
    };
  }

  /** Whether somebody who came was expected; how they came is noted. */
  note(mark: string, arrival: Arrival): boolean {
    if (!this.expected.has(mark)) return false;
    this.expected.set(mark, arrival);
    return true;
  }
}
