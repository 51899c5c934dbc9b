import { withRawConnection, type Db } from '@/store/db/connection';

/** Which of some watches have more stretches since a time than `most`. */
export async function fetchRestless(
  db: Db,
  watchIds: readonly number[],
  since: number,
  most: number,
): Promise<number[]> {
  return withRawConnection(db, (raw) => {
    // No further than that many: a count would go through all of them.
    const another = raw.prepare<[number, number, number]>(
      'SELECT 1 FROM stretches WHERE watch_id = ? AND began >= ? LIMIT 1 OFFSET ?',
    );
    return watchIds.filter((id) => another.get(id, since, most) !== undefined);
  });
}

/** Up to when nothing of a watch's history is open, or ends after `now`. */
export async function fetchSettledUntil(db: Db, watchId: number, now: number): Promise<number> {
  return withRawConnection(db, (raw) => {
    const open = (table: 'stretches' | 'outages') =>
      `SELECT MIN(began) AS began FROM ${table} WHERE watch_id = @watchId AND (ended IS NULL OR ended > @now)`;
    const row = raw
      .prepare<[{ watchId: number; now: number }], { began: number | null }>(
        `SELECT MIN(began) AS began FROM (${open('stretches')} UNION ALL ${open('outages')})`,
      )
      .get({ watchId, now });
    return Math.min(row?.began ?? now, now);
  });
}

/**
 * A mark of what of a watch's history began before a time: the same mark, the same history. It reads all of it, in a
 * quarter of the time that handing it over takes; kinds tell themselves apart by their first letter and length.
 */
export async function fetchHistoryMark(db: Db, watchId: number, before: number): Promise<string> {
  return withRawConnection(db, (raw) =>
    [
      `SELECT COUNT(*) || ' ' || SUM(began) || ' ' || SUM(ended) || ' ' || SUM(began % 1009 * (unicode(kind) * 32 + length(kind)))
       FROM stretches WHERE watch_id = ? AND began < ?`,
      `SELECT COUNT(*) || ' ' || SUM(began) || ' ' || COALESCE(SUM(ended), 0) || ' ' || COALESCE(SUM(left_out_at), 0)
       FROM outages WHERE watch_id = ? AND began < ?`,
    ]
      .map((sql) => raw.prepare<[number, number], string | null>(sql).pluck().get(watchId, before) ?? '')
      .join('; '),
  );
}
