import type { Db } from '@/store/db/connection';
import type { MessageTextRow } from '@/store/db/tables';

/** What is said of a happening in the place of the built-in text. */
export interface KeptText {
  id: number;
  /** The channel it is for; null for every channel that has none of its own. */
  channelId: number | null;
  happening: string;
  title: string;
  body: string;
  /** Why it was not used when it was to be said last; null where it was, or was not needed yet. */
  trouble: string | null;
  createdAt: number;
}

function textOf(row: MessageTextRow): KeptText {
  return {
    id: row.id,
    channelId: row.channel_id,
    happening: row.happening,
    title: row.title,
    body: row.body,
    trouble: row.trouble,
    createdAt: row.created_at,
  };
}

export async function fetchTexts(db: Db): Promise<KeptText[]> {
  return (await db('message_texts').orderBy('id')).map(textOf);
}

export async function fetchText(db: Db, id: number): Promise<KeptText | null> {
  const row = await db('message_texts').where({ id }).first();
  return row ? textOf(row) : null;
}

/** The text of a channel for a happening, or that for every channel where null is asked for. */
export async function fetchTextFor(
  db: Db,
  channelId: number | null,
  happening: string,
): Promise<KeptText | null> {
  const row = await db('message_texts').where({ channel_id: channelId, happening }).first();
  return row ? textOf(row) : null;
}

type TextContent = Pick<KeptText, 'channelId' | 'happening' | 'title' | 'body'>;

function columns({ channelId, happening, title, body }: TextContent) {
  return { channel_id: channelId, happening, title, body, trouble: null };
}

export async function saveNewText(db: Db, text: TextContent, createdAt: number): Promise<number> {
  const [id] = await db('message_texts').insert({ ...columns(text), created_at: createdAt });
  return id!;
}

/** What was wrong with it is forgotten: it is tried anew. */
export async function saveTextChange(db: Db, id: number, text: TextContent): Promise<void> {
  await db('message_texts').where({ id }).update(columns(text));
}

export async function deleteText(db: Db, id: number): Promise<boolean> {
  return (await db('message_texts').where({ id }).delete()) > 0;
}

/** Notes why a text could not be used, or that it could. */
export async function saveTextTrouble(db: Db, id: number, trouble: string | null): Promise<void> {
  await db('message_texts').where({ id }).update({ trouble });
}

/** Texts that could not be used when they were to be said last, with the channel they are for. */
export async function fetchBrokenTexts(
  db: Db,
): Promise<{ id: number; happening: string; channel: string | null; trouble: string }[]> {
  const rows = await db('message_texts')
    .leftJoin('channels', 'channels.id', 'message_texts.channel_id')
    .whereNotNull('message_texts.trouble')
    .orderBy('message_texts.id')
    .select<{ id: number; happening: string; channel: string | null; trouble: string }[]>(
      'message_texts.id as id',
      'message_texts.happening as happening',
      'channels.name as channel',
      'message_texts.trouble as trouble',
    );
  return rows;
}
