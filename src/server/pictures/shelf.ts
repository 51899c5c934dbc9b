import type { Knex } from 'knex';
import { typeOfPicture } from '@/core/pages/picture';
import { whoAsks } from '@/server/access/principal';
import { fetchPictureBytes } from '@/store/pages/pictures';
import { FOR_GOOD, isRead, sendGone, type Call } from '@/server/site/sending';

const MOST_BYTES = 16_000_000;

/** Pictures of pages, read once: what is in one stands in its name. */
export class PictureShelf {
  /** The one used longest ago comes first. */
  private readonly kept = new Map<string, Buffer>();
  private bytes = 0;

  constructor(private readonly db: Knex) {}

  async get(name: string): Promise<Buffer | null> {
    const known = this.kept.get(name);
    if (known) {
      this.kept.delete(name);
      this.kept.set(name, known);
      return known;
    }
    const bytes = await fetchPictureBytes(this.db, name);
    if (!bytes) return null;
    this.kept.set(name, bytes);
    this.bytes += bytes.length;
    for (const [oldest, { length }] of this.kept) {
      if (this.bytes <= MOST_BYTES) break;
      this.kept.delete(oldest);
      this.bytes -= length;
    }
    return bytes;
  }
}

/** A picture of a page, to whoever may see the page. */
export async function sendPicture(
  { request, response }: Pick<Call, 'request' | 'response'>,
  shelf: Pick<PictureShelf, 'get'>,
  name: string,
  forEveryone: boolean,
): Promise<void> {
  const bytes = await shelf.get(name);
  if (!bytes) return sendGone({ request, response });
  response.writeHead(200, {
    'content-type': typeOfPicture(name),
    'content-length': bytes.length,
    'cache-control': forEveryone ? FOR_GOOD : 'private, max-age=3600',
    'content-security-policy': "default-src 'none'",
  });
  response.end(request.method === 'HEAD' ? undefined : bytes);
}

/** A picture that is chosen in a form, to whoever is at the desk: it may stand on no page yet. */
export async function sendChosenPicture(
  call: Pick<Call, 'request' | 'response'>,
  { db, now, shelf }: { db: Knex; now: number; shelf: Pick<PictureShelf, 'get'> },
  name: string,
): Promise<void> {
  const who = await whoAsks(db, call.request.headers, now);
  if (!who?.rights.has('write') || !isRead(call.request)) return sendGone(call);
  return sendPicture(call, shelf, name, false);
}
