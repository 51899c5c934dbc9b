import type { Db } from '@/store/db/connection';
import { turnTo, type ListPage } from '@/store/db/list-page';
import type { DeedRow } from '@/store/db/tables';

/** Something that was changed, and by whom. */
export interface Deed {
  id: number;
  at: number;
  /** The id of the use case, such as "changeWatch". */
  deed: string;
  by: { kind: 'account' | 'token' | 'job' | 'link' | 'room' | 'machine'; id: number | null; name: string };
  subject: { kind: string; id: number | null; name: string };
}

const ROWS_AT_ONCE = 100;

/** Notes one deed for each thing it was about: a change to many is written in few statements. */
export async function saveDeeds(
  db: Db,
  { at, deed, by }: Pick<Deed, 'at' | 'deed' | 'by'>,
  subjects: readonly Deed['subject'][],
): Promise<void> {
  const rows = subjects.map((subject) => ({
    at,
    deed,
    by_kind: by.kind,
    by_id: by.id,
    by_name: by.name,
    subject_kind: subject.kind,
    subject_id: subject.id,
    subject_name: subject.name,
  }));
  for (let i = 0; i < rows.length; i += ROWS_AT_ONCE) {
    await db('deeds').insert(rows.slice(i, i + ROWS_AT_ONCE));
  }
}

function deedOf(row: DeedRow): Deed {
  return {
    id: row.id,
    at: row.at,
    deed: row.deed,
    by: { kind: row.by_kind, id: row.by_id, name: row.by_name },
    subject: { kind: row.subject_kind, id: row.subject_id, name: row.subject_name },
  };
}

/** What was changed, and by whom. */
export async function fetchDeeds(db: Db, page: ListPage): Promise<Deed[]> {
  return (await turnTo(db('deeds'), page, { at: 'at', id: 'id' })).map(deedOf);
}
