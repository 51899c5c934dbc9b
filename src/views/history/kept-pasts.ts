import { Past, type PastOutage } from '@/core/history/past';
import type { Span } from '@/core/history/spans';
import type { Db } from '@/store/db/connection';
import { fetchOutageSpans, type OutageSpan } from '@/store/history/outages';
import { fetchHistoryMark, fetchRestless, fetchSettledUntil } from '@/store/history/settled';
import { fetchStretches } from '@/store/history/stretches';

/** A watch with more stretches than this is restless: its past is kept. */
const MANY = 2000;
/** So many pieces are kept in all, some tens of bytes each; what was not asked for longest goes first. */
const MOST_PIECES = 400_000;

interface Kept {
  past: Past;
  mark: string;
}

/** Outages as histories have them: the oldest first, an open one up to now. */
export function pastOutages(outages: readonly OutageSpan[], now: number): PastOutage[] {
  return outages
    .map(({ began, ended, leftOut }) => ({ from: began, to: ended ?? now, reason: leftOut }))
    .reverse();
}

/** The pasts of restless watches, worked out once and kept until they change: each is held against its mark first. */
class KeptPasts {
  private readonly kept = new Map<number, Kept>();

  /** The pasts of those that are restless within a range that reaches up to now. */
  async fetch(db: Db, watchIds: readonly number[], range: Span, now: number): Promise<Map<number, Past>> {
    const pasts = new Map<number, Past>();
    for (const id of await fetchRestless(db, watchIds, range.from, MANY)) {
      pasts.set(id, await this.past(db, id, range.from, now));
    }
    return pasts;
  }

  private async past(db: Db, id: number, from: number, now: number): Promise<Past> {
    const known = this.kept.get(id);
    if (known && known.past.from <= from && known.past.to <= now) {
      if ((await fetchHistoryMark(db, id, known.past.to)) === known.mark) {
        this.keep(id, known);
        return known.past;
      }
    }
    const to = await fetchSettledUntil(db, id, now);
    // The mark comes first: what is written meanwhile makes the next one differ.
    const mark = await fetchHistoryMark(db, id, to);
    const stretches = (await fetchStretches(db, [id], from, to)).get(id)!;
    const outages = pastOutages(await fetchOutageSpans(db, [id], from, to), to);
    const past = new Past({ from, to }, { stretches, outages });
    this.keep(id, { past, mark });
    return past;
  }

  private keep(id: number, kept: Kept): void {
    this.kept.delete(id);
    this.kept.set(id, kept);
    let pieces = 0;
    for (const [other, { past }] of [...this.kept].reverse()) {
      pieces += past.size;
      if (pieces > MOST_PIECES && other !== id) this.kept.delete(other);
    }
  }
}

export const keptPasts = new KeptPasts();
