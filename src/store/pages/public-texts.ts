import type { PublicText } from '@/core/pages/public-text';
import type { Db } from '@/store/db/connection';
import type { PublicTextRow } from '@/store/db/public-tables';

export interface KeptPublicText extends PublicText {
  id: number;
}

const textOf = ({ id, name, title, body, over }: PublicTextRow): KeptPublicText => ({
  ...{ id, name, title, body, over },
});

export async function fetchPublicTexts(db: Db): Promise<KeptPublicText[]> {
  return (await db('public_texts').orderByRaw('name COLLATE NOCASE')).map(textOf);
}

export async function fetchPublicText(db: Db, id: number): Promise<KeptPublicText | null> {
  const row = await db('public_texts').where({ id }).first();
  return row ? textOf(row) : null;
}

export async function saveNewPublicText(db: Db, { name, title, body, over }: PublicText): Promise<number> {
  const [id] = await db('public_texts').insert({ name, title, body, over });
  return id!;
}

export async function savePublicText(
  db: Db,
  id: number,
  { name, title, body, over }: PublicText,
): Promise<void> {
  await db('public_texts').where({ id }).update({ name, title, body, over });
}

export async function deletePublicText(db: Db, id: number): Promise<void> {
  await db('public_texts').where({ id }).delete();
}

/** A section whose outages are told the public by themselves, where nobody has written anything by then. */
export interface SelfTelling {
  sectionId: number;
  textId: number;
  afterMinutes: number;
  pageIds: number[];
}

export async function fetchSelfTellings(db: Db): Promise<SelfTelling[]> {
  const rows = await db('self_tellings').orderBy('section_id');
  return rows.map((row) => ({
    sectionId: row.section_id,
    textId: row.text_id,
    afterMinutes: row.after_minutes,
    pageIds: JSON.parse(row.page_ids) as number[],
  }));
}

/** Sets how a section tells the public; null, it does not. */
export async function saveSelfTelling(
  db: Db,
  sectionId: number,
  telling: Omit<SelfTelling, 'sectionId'> | null,
): Promise<void> {
  await db('self_tellings').where({ section_id: sectionId }).delete();
  if (!telling) return;
  const { textId, afterMinutes, pageIds } = telling;
  await db('self_tellings').insert({
    ...{
      section_id: sectionId,
      text_id: textId,
      after_minutes: afterMinutes,
      page_ids: JSON.stringify(pageIds),
    },
  });
}

/** Outages of a section that are not over, the first first. */
export async function fetchOpenOutagesIn(
  db: Db,
  sectionId: number,
): Promise<{ id: number; watchId: number; began: number }[]> {
  return db('outages')
    .join('watches', 'watches.id', 'outages.watch_id')
    .where('watches.section_id', sectionId)
    .whereNull('watches.deleted_at')
    .whereNull('outages.ended')
    .orderBy('outages.began')
    .select('outages.id as id', 'outages.watch_id as watchId', 'outages.began as began');
}

/** The end of the last outage of some watches that began at or after a time; null where one is not over. */
export async function fetchLastEnd(
  db: Db,
  watchIds: readonly number[],
  since: number,
): Promise<number | null> {
  const rows = await db('outages')
    .whereIn('watch_id', [...watchIds])
    .where('began', '>=', since)
    .select('ended');
  const ends = rows.map(({ ended }) => ended);
  return ends.length === 0 || ends.includes(null) ? null : Math.max(...(ends as number[]));
}

/** The incident a section has told by itself and that is open; null where there is none. */
export async function fetchToldByItself(db: Db, sectionId: number): Promise<number | null> {
  const row = await db('incidents').where({ by_itself: sectionId }).whereNull('ended').first('id');
  return row?.id ?? null;
}

/** An incident is told by a section itself, or taken over by a person. */
export async function saveByItself(db: Db, incidentId: number, sectionId: number | null): Promise<void> {
  await db('incidents').where({ id: incidentId }).update({ by_itself: sectionId });
}

/** Whether somebody has told something open of these watches on these pages, or of one of these outages. */
export async function isToldAlready(
  db: Db,
  {
    watchIds,
    outageIds,
    pageIds,
  }: { watchIds: readonly number[]; outageIds: readonly number[]; pageIds: readonly number[] },
): Promise<boolean> {
  const onPages = db('incident_pages')
    .whereIn('page_id', [...pageIds])
    .select('incident_id');
  const ofWatches = db('incident_watches')
    .whereIn('watch_id', [...watchIds])
    .select('incident_id');
  const row = await db('incidents')
    .where({ kind: 'incident' })
    .where((q) => {
      void q.whereIn('outage_id', [...outageIds]);
      void q.orWhere((open) => void open.whereNull('ended').whereIn('id', onPages).whereIn('id', ofWatches));
    })
    .first('id');
  return row !== undefined;
}
