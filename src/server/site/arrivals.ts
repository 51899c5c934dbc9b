import { newSecret } from '@/accounts/secrets';
import type { ArrivalPort } from '@/cases/frame/world';
import type { Arrival } from '@/core/pages/host-check';

const MOST_EXPECTED = 20;
const PREFIX = '/whose/';

/** Requests of our own that are to come back to us, by whatever way a name leads. */
export class Arrivals implements ArrivalPort {
  /** The oldest comes first. */
  private readonly expected = new Map<string, Arrival | null>();

  expect(): string {
    const mark = newSecret();
    this.expected.set(mark, null);
    for (const oldest of this.expected.keys()) {
      if (this.expected.size <= MOST_EXPECTED) break;
      this.expected.delete(oldest);
    }
    return `${PREFIX}${mark}`;
  }

  came(path: string): Arrival | null {
    const mark = path.slice(PREFIX.length);
    const arrival = this.expected.get(mark) ?? null;
    this.expected.delete(mark);
    return arrival;
  }

  /** Whether somebody who came was expected; how they came is noted. */
  note(mark: string, arrival: Arrival): boolean {
    if (!this.expected.has(mark)) return false;
    this.expected.set(mark, arrival);
    return true;
  }
}
