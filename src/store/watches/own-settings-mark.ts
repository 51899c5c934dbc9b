import { createHash } from 'node:crypto';
import { prepared, withRawConnection, type Db } from '@/store/db/connection';

const ALL = `SELECT id, name, kind, section_id, config FROM watches WHERE deleted_at IS NULL ORDER BY id`;

/** A mark of all that is set on watches themselves: another one once any of them was made, changed, moved or deleted. */
export function fetchOwnSettingsMark(db: Db): Promise<string> {
  return withRawConnection(db, (raw) => {
    const hash = createHash('sha256');
    for (const row of prepared(raw, ALL).raw().iterate()) hash.update(JSON.stringify(row));
    return hash.digest('base64url');
  });
}
