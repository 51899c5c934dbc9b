import { createHash } from 'node:crypto';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';

const pack = promisify(gzip);

/** What a sheet or a file of a page is, drawn for everybody who asks for the same. */
export interface Drawn {
  type: string;
  body: string | Buffer;
}

/** One drawn sheet, as it is handed to everyone. */
export interface Copy {
  type: string;
  body: Buffer;
  packed: Buffer;
  /** Strong (RFC 9110, 8.8.3): the packed bytes have another. */
  tag: string;
  packedTag: string;
  /** When drawing began and how long it took, in ms. */
  drawnAt: number;
  took: number;
}

export interface CopiesOptions {
  /** Waits so many ms. */
  rest: (ms: number) => Promise<void>;
  /** Milliseconds of a clock nobody sets. */
  now: () => number;
}

export interface Wanted {
  /** What tells it from all other sheets. */
  key: string;
  /** When something it shows last changed, by the same clock. */
  changedAt: () => number;
  /** Draws it, however long it takes; null where there is no such sheet. */
  draw: () => Promise<Drawn | null>;
}

/** What a page says of the time, such as its figures of ninety days, may be this old. */
const MOST_AGE_MS = 10_000;
const MOST_COPIES = 256;
const MOST_BYTES = 32_000_000;
/** While a page changes all the time, drawing one view of it takes at most this part of one core. */
const DRAWING_SHARE = 1 / 4;
const LONGEST_WAIT_MS = 1000;

/**
 * Draws each sheet of a public page once for all who ask for it between two changes, and packs it once. Many come at
 * once when something is down, and the process that draws also takes check-ins.
 */
export class Copies {
  /** The one used longest ago comes first. */
  private readonly copies = new Map<string, Copy>();
  private readonly drawing = new Map<string, Promise<Copy | null>>();
  private bytes = 0;

  constructor(private readonly options: CopiesOptions) {}

  /** A copy that shows all that has changed by now; null where there is no such sheet. */
  async get(wanted: Wanted): Promise<Copy | null> {
    const came = this.options.now();
    const { key } = wanted;
    let copy = this.copies.get(key);
    // A drawing that others wait for may have begun before a change; the one after it began since this one came.
    while (!copy || !(copy.drawnAt >= came || this.isFresh(copy, wanted))) {
      const drawn = await (this.drawing.get(key) ?? this.begin(wanted, copy));
      if (!drawn) return null;
      copy = drawn;
    }
    if (this.copies.delete(key)) this.copies.set(key, copy);
    return copy;
  }

  /** The copy that stands, where it is fresh: nothing is waited for. */
  fresh(wanted: Wanted): Copy | null {
    const copy = this.copies.get(wanted.key);
    return copy && this.isFresh(copy, wanted) ? copy : null;
  }

  private isFresh({ drawnAt }: Copy, { changedAt }: Wanted): boolean {
    return drawnAt > changedAt() && this.options.now() - drawnAt < MOST_AGE_MS;
  }

  private begin(wanted: Wanted, last?: Copy): Promise<Copy | null> {
    const { key } = wanted;
    const drawing = this.draw(wanted, last)
      .then((copy) => {
        this.drop(key);
        if (copy) this.keep(key, copy);
        return copy;
      })
      .finally(() => this.drawing.delete(key));
    this.drawing.set(key, drawing);
    return drawing;
  }

  private async draw({ draw }: Wanted, last?: Copy): Promise<Copy | null> {
    const { now, rest } = this.options;
    if (last) {
      const wait = Math.min(LONGEST_WAIT_MS, last.drawnAt + last.took / DRAWING_SHARE - now());
      if (wait > 0) await rest(wait);
    }
    const drawnAt = now();
    const drawn = await draw();
    if (!drawn) return null;
    const body = Buffer.from(drawn.body);
    const mark = createHash('sha256').update(body).digest('base64url').slice(0, 22);
    const packed = await pack(body);
    const { type } = drawn;
    return {
      type,
      body,
      packed,
      tag: `"${mark}"`,
      packedTag: `"${mark}-gz"`,
      drawnAt,
      took: now() - drawnAt,
    };
  }

  private keep(key: string, copy: Copy): void {
    const size = copy.body.length + copy.packed.length;
    if (size > MOST_BYTES / 4) return;
    this.copies.set(key, copy);
    this.bytes += size;
    for (const oldest of this.copies.keys()) {
      if (this.copies.size <= MOST_COPIES && this.bytes <= MOST_BYTES) return;
      this.drop(oldest);
    }
  }

  private drop(key: string): void {
    const copy = this.copies.get(key);
    if (copy) this.bytes -= copy.body.length + copy.packed.length;
    this.copies.delete(key);
  }
}
