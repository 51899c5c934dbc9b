import type { OwnText } from '@/core/messages/own-text';
import { fetchTexts, saveTextTrouble, type KeptText } from '@/store/messages/texts';
import type { TemplateError } from '@/core/messages/sandbox';
import { MINUTE_MS } from '@/core/time/units';
import type { Db } from '@/store/db/connection';

const REST_MS = 10 * MINUTE_MS;

/** Texts of one's own, as they are to be used: those of a channel go before those for every channel. */
export class OwnWords {
  private texts: readonly KeptText[] | null = null;
  /** Until when texts that took too long are left alone, by the monotonic clock: all else waits while one is filled in. */
  private readonly restUntil = new Map<number, number>();

  constructor(private readonly db: Db) {}

  /** They were written, changed or deleted: they are read anew. */
  changed(): void {
    this.texts = null;
    this.restUntil.clear();
  }

  async of(channelId: number, happening: string): Promise<(OwnText & { id: number }) | null> {
    this.texts ??= await fetchTexts(this.db);
    const fitting = this.texts.filter((text) => text.happening === happening);
    const text =
      fitting.find((one) => one.channelId === channelId) ?? fitting.find((one) => one.channelId === null);
    const rests = text !== undefined && (this.restUntil.get(text.id) ?? 0) > performance.now();
    return text === undefined || rests ? null : text;
  }

  /** Notes what came of using one: why it could not be used, or null. */
  async note(id: number, trouble: TemplateError | null): Promise<void> {
    if (trouble?.tookTooLong) this.restUntil.set(id, performance.now() + REST_MS);
    const said = trouble?.message ?? null;
    const known = this.texts?.find((text) => text.id === id);
    if (!known || known.trouble === said) return;
    known.trouble = said;
    await saveTextTrouble(this.db, id, said);
  }
}
